import { z } from 'zod'
import { modbusTableNames } from '../../vocabulary/modbus-table'
import { nibbleOrders } from '../../addressing/slot-tables'
import { serialLine } from '../../vocabulary/serial-line'
import { switchBank } from '../../vocabulary/switch-bank'
import { sheetProtocols } from '../../protocols/registry'
import { mediumNames } from '../../vocabulary/medium'
import { valueListText as valueList } from '../../vocabulary/value-list'
import {
  sheetTypes,
  type SheetType,
  key,
  words,
  version,
  data,
  record,
  placement,
  terminals,
  electrical,
  octets,
  failSafe,
  moduleInterface,
  variant,
  headPlacement,
  powerNeed,
  powerSource,
} from './parts'

export { octetTypes, sheetTypes, unusedType, type SheetType } from './parts'

/** A device sheet: what a device has that comes without an open description file. Written by hand
 *  or by the form on the Shelf. */
export const deviceSheet = z
  .object({
    $schema: z.string().optional(),
    kataxisSheet: version,
    maker: words.min(1),
    name: words.min(1),
    orderNumber: words.default(''),
    info: words.default(''),
    network: z.enum(sheetProtocols).describe('"local": a controller with its own slots'),
    switches: switchBank.optional().describe('Address switches on the housing'),
    dataOrder: z
      .enum(['big', 'little'])
      .nullable()
      .default(null)
      .describe(
        'In which order the octets of numbers travel, where that is not what the network asks',
      ),
    addressing: words
      .default('')
      .describe('How the address is set on the device, e.g. "two rotary switches, 1 to 63"'),
    identity: z
      .object({
        vendorCode: octets,
        productType: octets,
        productCode: octets,
        majorRevision: octets,
        minorRevision: octets,
      })
      .partial()
      .strict()
      .default({})
      .describe('EtherNet/IP only'),
    head: z
      .object({ inputs: data, outputs: data, parameters: z.array(record).max(200).default([]) })
      .strict()
      .prefault({})
      .describe('What the head itself sends and takes before all modules, e.g. six status bytes'),
    supplyMa: z
      .number()
      .int()
      .min(0)
      .max(1_000_000)
      .nullable()
      .default(null)
      .describe('What the head supplies to its modules'),
    placement: headPlacement.optional().describe('What the head asks of the row of modules'),
    power: powerNeed.optional().describe('What the head takes of its supply'),
    source: powerSource.optional().describe('Supplies: what it gives to other devices'),
    controller: z
      .object({
        inputBytes: z.number().int().min(0).max(1_048_576),
        outputBytes: z.number().int().min(0).max(1_048_576),
        interfaces: z.array(moduleInterface).max(64).default([]),
      })
      .strict()
      .optional()
      .describe('Only with the network "local": what the controller has room for'),
    networkPorts: z
      .array(
        z
          .object({
            name: words,
            medium: z.enum(mediumNames).default('copper'),
            segment: z
              .number()
              .int()
              .min(1)
              .max(16)
              .optional()
              .describe('Repeaters: ports with the same number are one line'),
            terminates: z
              .boolean()
              .default(false)
              .describe('It has a terminating resistor that is always on'),
          })
          .strict(),
      )
      .max(64)
      .default([])
      .describe(
        'Its ports for cables, in order; left out, as many as are usual on its network. Switches, repeaters and converters have the network "passive"',
      ),
    radio: z
      .array(
        z
          .object({
            everyS: z.number().positive().max(86_400),
            devices: z.number().int().min(1).max(10_000),
          })
          .strict(),
      )
      .max(30)
      .default([])
      .describe(
        'Wireless gateways: how many devices it takes that send every so many seconds, each line alone',
      ),
    slots: z
      .object({
        count: z.number().int().min(0).max(4096),
        first: z.number().int().min(0).max(4096).default(1),
        everySlot: z
          .object({ inputBytes: octets, outputBytes: octets })
          .strict()
          .nullable()
          .default(null)
          .describe('Set where every slot has these octets, whatever stands in it'),
        nibbles: z
          .object({
            order: z.enum(nibbleOrders).default('words-low-first'),
            secondFirst: z
              .number()
              .int()
              .min(1)
              .max(8192)
              .nullable()
              .default(null)
              .describe(
                'Number of the first B node, where B nodes stand in a block of their own behind the A nodes',
              ),
          })
          .strict()
          .nullable()
          .default(null)
          .describe(
            'A gateway: slots are nodes of four bits each way, in a table that begins with a nibble of flags',
          ),
      })
      .strict()
      .prefault({ count: 0 }),
    modules: z
      .array(
        z
          .object({
            key,
            name: words,
            orderNumber: words.default(''),
            info: words.default(''),
            category: words.default(''),
            slots: valueList.default('').describe('Slots it fits; empty means all'),
            currentMa: z.number().int().min(-1_000_000).max(1_000_000).nullable().default(null),
            placement: placement.optional(),
            terminals: terminals.default([]),
            electrical: electrical.optional().describe('What its channels are electrically'),
            failSafe: failSafe.optional().describe('Set on fail-safe modules'),
            interfaces: z
              .array(moduleInterface)
              .max(16)
              .default([])
              .describe('Networks that the module brings to its controller'),
            changesRunning: z
              .boolean()
              .default(false)
              .describe('Whether its type may be changed while the station runs'),
            inputs: data,
            outputs: data,
            parameters: z.array(record).max(200).default([]),
          })
          .strict(),
      )
      .max(5000)
      .default([]),
    dataSets: z
      .array(
        z
          .object({
            key,
            name: words,
            info: words.default(''),
            outputInstance: octets,
            outputBytes: octets,
            inputInstance: octets,
            inputBytes: octets,
            configInstance: octets.default(0),
            configBytes: octets.default(0),
            runIdleHeader: z
              .boolean()
              .default(true)
              .describe('Whether four octets run/idle stand before the outputs'),
            contents: z
              .array(
                z
                  .object({
                    name: words.min(1).describe('What it is: a network, analogs, a mailbox …'),
                    direction: z.enum(['in', 'out']),
                    byte: octets,
                    bytes: z.number().int().min(1).max(65_535),
                  })
                  .strict(),
              )
              .max(500)
              .default([])
              .describe(
                'What it contains behind the head’s data, so that it can be chosen by that',
              ),
          })
          .strict(),
      )
      .max(200)
      .default([])
      .describe(
        'Connections to choose from, with assembly instances; the head’s data, tables of slots and then the modules’ data stand inside them',
      ),
    variants: z
      .array(variant)
      .max(100)
      .default([])
      .describe('Other order numbers of the same device: rack sizes, with or without supply'),
    registerCounting: z
      .enum(['from-0', 'reference'])
      .default('from-0')
      .describe(
        '"reference": addresses are written as references, 40001 the first holding register',
      ),
    registers: z
      .array(
        z
          .object({
            name: words,
            table: z.enum(modbusTableNames),
            address: octets,
            type: z.enum(Object.keys(sheetTypes) as [SheetType, ...SheetType[]]),
            access: z
              .enum(['read', 'write', 'both'])
              .optional()
              .describe('Left out: what can be written is written, the rest read'),
          })
          .strict(),
      )
      .max(10_000)
      .default([])
      .describe('Modbus: where the head has no data of its own these are its data'),
    modbus: z
      .object({
        maxGap: z
          .number()
          .int()
          .min(0)
          .max(2000)
          .default(0)
          .describe('So many unlisted registers may be read along to save a request'),
        readsAndWrites: z.boolean().default(false).describe('Takes function 23'),
        bauds: z.array(z.number().int().min(300).max(12_000_000)).max(30).default([]),
        line: serialLine
          .optional()
          .describe('How it comes from its maker, where the line is set at the device'),
        connections: z
          .number()
          .int()
          .min(1)
          .max(1000)
          .optional()
          .describe('TCP connections that it takes at once'),
        watchdog: z
          .object({ address: octets, periodMs: z.number().int().min(1).max(3_600_000) })
          .strict()
          .nullable()
          .default(null)
          .describe('Holding register that has to be written at least so often'),
        startSequence: z
          .array(
            z
              .object({
                table: z.enum(['coil', 'holding-register']),
                address: octets,
                value: octets,
                note: words.default(''),
              })
              .strict(),
          )
          .max(50)
          .default([])
          .describe('What has to be written first, in this order'),
      })
      .strict()
      .prefault({}),
  })
  .strict()

/** A sheet that adds to what other files describe, and changes none of them: what stands in the
 *  manual and not in the file. */
export const supplementSheet = z
  .object({
    $schema: z.string().optional(),
    kataxisSheet: version,
    maker: words.min(1).describe('As the described file names it'),
    name: words.min(1),
    info: words.default(''),
    adds: z
      .array(
        z
          .object({
            orderNumber: words.default('').describe('Of the head or module it adds to'),
            module: words
              .default('')
              .describe('Its name, where the description gives it no order number'),
            currentMa: z
              .number()
              .int()
              .min(-1_000_000)
              .max(1_000_000)
              .optional()
              .describe('Taken from the backplane; negative supplies'),
            switches: switchBank.optional(),
            placement: placement.optional().describe('Where a module may stand among others'),
            headPlacement: headPlacement
              .optional()
              .describe('What a head asks of the row of modules'),
            power: powerNeed.optional().describe('What a head takes of its supply'),
            terminals: terminals.optional(),
            electrical: electrical
              .optional()
              .describe('What the channels of a module are electrically'),
          })
          .strict()
          .refine(
            ({ orderNumber, module }) => orderNumber + module !== '',
            'an order number or the name of a module is needed',
          ),
      )
      .min(1)
      .max(5000),
  })
  .strict()

/** Both kinds of sheet, as published. */
export const sheetFile = z.union([deviceSheet, supplementSheet])

export type DeviceSheet = z.infer<typeof deviceSheet>
/** As somebody writes it: what has a default may be left out. */
export type WrittenSheet = z.input<typeof deviceSheet>
export type SheetData = DeviceSheet['head']['inputs']

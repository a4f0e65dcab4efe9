import { z } from 'zod'
import type { SheetDevice } from '../../catalog/model'
import { serialLine, type SerialLine } from '../../vocabulary/serial-line'
import { wordModbusMessage } from './frame-words'
import type { NetworkProtocol } from '../protocol'
import { modbusSerialMaster, modbusTcpMaster } from './master'
import { ipNetwork, ipStation } from '../settings'
import type { WireStation } from '../wire'
import { register } from './notation'
import { requestRoundMs, writtenPlaces } from './round'
import { telegramsOf } from './telegrams'
import { modbusRtuTimes, modbusTcpTimes } from './times'
import { switchedWiring } from '../wiring'

/** How often data are asked for, station by station. */
const requestMs = z.number().int().min(1).max(3_600_000).default(500)

export const modbus = {
  name: 'modbus',
  title: 'Modbus',
  kinds: {
    'modbus-tcp': {
      name: 'Modbus TCP',
      hasIp: true,
      master: modbusTcpMaster,
      wordFrame: wordModbusMessage,
      number: { word: 'Unit', first: 0, last: 255, start: 1, isUnit: true },
      settings: { network: { ...ipNetwork, requestMs }, station: ipStation },
      wiring: switchedWiring,
      times: modbusTcpTimes,
    },
    'modbus-rtu': {
      name: 'Modbus RTU',
      // MODBUS over serial line V1.02
      master: modbusSerialMaster,
      wordFrame: wordModbusMessage,
      number: { word: 'Unit', first: 1, last: 247, start: 1 },
      settings: {
        network: {
          line: serialLine.default({ baud: 19_200, dataBits: 8, parity: 'even', stopBits: 1 }),
          requestMs,
        },
        station: {
          /** As it is set at the device itself; null: as its network has it. */
          line: serialLine.nullable().default(null),
        },
      },
      wiring: { shape: 'bus', medium: 'rs-485', ports: 2, controllerPorts: 2 },
      times: modbusRtuTimes,
      round: (
        { line, requestMs: everyMs }: { line: SerialLine; requestMs: number },
        stations: readonly WireStation[],
      ) => ({ ms: requestRoundMs(line, stations), everyMs }),
    },
  },
  sheetParts: ['registers'],
  byteOrder: 'big', // MODBUS Application Protocol V1.1b3
  placesProposed: true,
  bitRates: ({ sheet }) => sheet.modbus.bauds,
  sessions: ({ sheet }) => sheet.modbus.connections ?? null,
  writes: writtenPlaces,
  telegrams: telegramsOf,
  notations: { register },
} satisfies NetworkProtocol<SheetDevice>

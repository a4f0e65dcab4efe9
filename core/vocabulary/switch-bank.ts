import { z } from 'zod'

/** Address switches on a housing: how they look, how they count, and which part of the address they
 *  set. Styles: common practice. */
const common = {
  /** What they set: the station's number on its network, or the last octet of its IP address. */
  sets: z
    .enum(['number', 'lastOctet'])
    .default('number')
    .describe('The station number on its network, or the last octet of its IP address'),
  /** Added to what the switches count. */
  offset: z
    .number()
    .int()
    .min(-65_535)
    .max(65_535)
    .default(0)
    .describe('Added to what the switches count'),
  first: z
    .number()
    .int()
    .min(0)
    .max(65_535)
    .nullable()
    .default(null)
    .describe('Smallest address the device takes from them'),
  last: z.number().int().min(0).max(65_535).nullable().default(null),
  powerCycle: z.boolean().default(true).describe('Takes effect after power-cycling'),
}
const digits = z.number().int().min(1).max(4)
const on = z
  .union([z.literal(0), z.literal(1)])
  .default(1)
  .describe('What a switch in position ON counts')

export const switchBank = z.discriminatedUnion('style', [
  z.object({ style: z.literal('rotary-decimal'), digits, ...common }).strict(),
  z.object({ style: z.literal('rotary-hex'), digits, ...common }).strict(),
  z
    .object({
      style: z.literal('dip-binary'),
      count: z.number().int().min(1).max(16),
      lsb: z.enum(['left', 'right']).default('left'),
      on,
      ...common,
    })
    .strict(),
  z
    .object({
      style: z.literal('dip-weighted'),
      weights: z
        .array(z.number().int().min(0).max(65_535))
        .min(1)
        .max(16)
        .describe('From left to right'),
      on,
      ...common,
    })
    .strict(),
  z
    .object({
      style: z.literal('jumper'),
      positions: z
        .array(
          z
            .object({
              label: z.string().min(1).max(30),
              value: z.number().int().min(0).max(65_535),
            })
            .strict(),
        )
        .min(1)
        .max(64),
      ...common,
    })
    .strict(),
  z
    .object({
      style: z.literal('panel'),
      menu: z
        .string()
        .max(300)
        .default('')
        .describe('The way to it, e.g. "Menu › Network › Address"'),
      octetByOctet: z
        .boolean()
        .default(false)
        .describe('The whole IP address is entered, one octet after the other'),
      store: z.string().max(100).default('').describe('What stores it, e.g. "hold OK for 3 s"'),
      ...common,
    })
    .strict(),
  z
    .object({
      style: z.literal('tool'),
      tool: z.string().max(300).default('').describe('The maker’s tool and what to choose in it'),
      ...common,
    })
    .strict(),
])
export type SwitchBank = z.infer<typeof switchBank>
export type SwitchStyle = SwitchBank['style']

export const switchStyles: Readonly<Record<SwitchStyle, string>> = {
  'rotary-decimal': 'Rotary switches, decimal',
  'rotary-hex': 'Rotary switches, hexadecimal',
  'dip-binary': 'DIP switches, binary',
  'dip-weighted': 'DIP switches with weights',
  jumper: 'Jumper',
  panel: 'Menu at the front panel',
  tool: 'Tool of the maker',
}

import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { moduleItem, submoduleItem, gsdml } from '../test/gsdml'
import { readText } from '../test/plans'
import { alignmentOf, gapBefore } from './alignment'
import { layoutOf } from './layout'
import { kindOfChannel, wordBytes, wordChannels } from './words'

const moduleWith = (...submodules: string[]) =>
  readText(
    gsdml({
      modules: moduleItem('DI', '0x10', submodules.join('')) + moduleItem('AO', '0x20', ''),
    }),
  ).file!.modules[0]!
const layoutWith = (io: string) => layoutOf(moduleWith(submoduleItem('S', io)))

describe('channels of a module', () => {
  test.each([
    [
      'named bits',
      '<Input><DataItem DataType="Unsigned8" UseAsBits="true" TextId="T_S"><BitDataItem BitOffset="2" TextId="T_S"/></DataItem></Input>',
      ['DI 2/1'],
    ],
    [
      'bits nobody named',
      '<Input><DataItem DataType="Unsigned8" UseAsBits="true" TextId="T_S"/></Input>',
      ['DI 0/1', 'DI 1/1', 'DI 2/1', 'DI 3/1', 'DI 4/1', 'DI 5/1', 'DI 6/1', 'DI 7/1'],
    ],
    [
      'a 16-bit value',
      '<Output><DataItem DataType="Integer16" TextId="T_S"/></Output>',
      ['AO 0/16'],
    ],
    [
      'a floating value with quality',
      '<Input><DataItem DataType="Float32+Unsigned8" TextId="T_S"/></Input>',
      ['AI 0/40'],
    ],
    [
      'a lone octet is a code, not a measured value',
      '<Input><DataItem DataType="Unsigned8" TextId="T_S"/></Input>',
      ['PI 0/8'],
    ],
    [
      'octets of a serial port',
      '<Output><DataItem DataType="OctetString" Length="4" TextId="T_S"/></Output>',
      ['PO 0/32'],
    ],
    ['a single Boolean', '<Input><DataItem DataType="Boolean" TextId="T_S"/></Input>', ['DI 0/8']],
    [
      'the trailer of a fail-safe message carries none',
      '<Input><DataItem DataType="Unsigned8" UseAsBits="true" TextId="T_S"><BitDataItem BitOffset="0" TextId="T_S"/></DataItem><DataItem DataType="F_MessageTrailer4Byte" TextId="T_S"/></Input>',
      ['DI 0/1'],
    ],
  ])('%s', (_, io, expected) => {
    expect(
      layoutWith(io).channels.map(
        (channel) => `${kindOfChannel(channel)} ${channel.offsetBits}/${channel.bits}`,
      ),
    ).toEqual(expected)
  })
})

describe('data blocks of a module', () => {
  test.each([
    [
      'octets start anywhere',
      '<Input><DataItem DataType="Unsigned8" UseAsBits="true"/></Input>',
      [['in', 1, 1]],
    ],
    [
      'words start at even bytes',
      '<Input><DataItem DataType="Integer16"/></Input>',
      [['in', 2, 2]],
    ],
    [
      'floating values start at 4-divisible bytes',
      '<Output><DataItem DataType="Float32"/><DataItem DataType="Integer16"/></Output>',
      [['out', 6, 4]],
    ],
    [
      'words of bits are no numbers',
      '<Input><DataItem DataType="Unsigned16" UseAsBits="true"/></Input>',
      [['in', 2, 1]],
    ],
    [
      'both directions apart',
      '<Input><DataItem DataType="Unsigned8"/></Input><Output><DataItem DataType="Integer16"/></Output>',
      [
        ['in', 1, 1],
        ['out', 2, 2],
      ],
    ],
    ['no data, no block', '', []],
  ])('%s', (_, io, expected) =>
    expect(
      layoutWith(io).blocks.map(({ direction, bytes, align }) => [direction, bytes, align.bytes]),
    ).toEqual(expected),
  )

  // Where a block begins so that its numbers stand right: bytes, beyond a multiple of them, numbers
  // that never do.
  test.each([
    ['a number alone', '<Input><DataItem DataType="Float32"/></Input>', [4, 0, 0]],
    [
      'an octet before a float',
      '<Input><DataItem DataType="Unsigned8" UseAsBits="true"/><DataItem DataType="Float32"/></Input>',
      [4, 3, 0],
    ],
    [
      'a word before a float',
      '<Input><DataItem DataType="Unsigned16"/><DataItem DataType="Float32"/></Input>',
      [4, 2, 0],
    ],
    [
      'floats that no beginning helps both of',
      '<Input><DataItem DataType="Float32"/><DataItem DataType="Unsigned8"/><DataItem DataType="Float32"/></Input>',
      [4, 0, 1],
    ],
    [
      'as many as possible',
      '<Input><DataItem DataType="Integer16"/><DataItem DataType="Unsigned8"/><DataItem DataType="Integer16"/><DataItem DataType="Integer16"/></Input>',
      [2, 1, 1],
    ],
  ])('%s', (_, io, expected) => {
    const { align } = layoutWith(io).blocks[0]!
    expect([align.bytes, align.rest, align.forced]).toEqual(expected)
  })

  // Against the numbers themselves: no other beginning leaves fewer of them wrong.
  test('no beginning is better than the one asked for', () => {
    fc.assert(
      fc.property(
        fc.array(fc.record({ offsetBits: fc.nat(80), bits: fc.constantFrom(12, 16, 32, 64) }), {
          maxLength: 6,
        }),
        fc.nat(40),
        (numbers, byte) => {
          const align = alignmentOf(numbers)
          const wrongAt = (at: number) =>
            numbers.filter(
              ({ offsetBits, bits }) =>
                bits >= 16 && (at * 8 + offsetBits) % (bits >= 32 ? 32 : 16) !== 0,
            ).length
          expect(wrongAt(byte + gapBefore(byte, align))).toBe(align.forced)
          expect(wrongAt(byte)).toBeGreaterThanOrEqual(align.forced)
        },
      ),
    )
  })

  // IEC 61158-6-10 (from memory): provider status with the data, consumer status against it.
  test.each([
    ['inputs', ['<Input><DataItem DataType="Unsigned8"/></Input>'], [1, 1]],
    ['outputs', ['<Output><DataItem DataType="Unsigned8"/></Output>'], [1, 1]],
    [
      'both',
      [
        '<Input><DataItem DataType="Unsigned8"/></Input><Output><DataItem DataType="Unsigned8"/></Output>',
      ],
      [2, 2],
    ],
    ['no data', [''], [1, 1]],
    ['three submodules', ['', '', '<Input><DataItem DataType="Unsigned8"/></Input>'], [3, 3]],
  ])('status octets of %s', (_, ios, expected) => {
    const layout = layoutOf(moduleWith(...ios.map((io, i) => submoduleItem(`S${i}`, io))))
    expect([layout.inputStatusBytes, layout.outputStatusBytes]).toEqual(expected)
  })

  test('is computed once a description', () => {
    const module = moduleWith(submoduleItem('S', ''))
    expect(layoutOf(module)).toBe(layoutOf(module))
  })
})

test.each([
  [{ inputBytes: 0, outputBytes: 0 }, 'no data'],
  [{ inputBytes: 1, outputBytes: 0 }, '1 byte in'],
  [{ inputBytes: 2, outputBytes: 1 }, '2 bytes in, 1 byte out'],
])('%j reads "%s"', (sizes, words) => expect(wordBytes(sizes)).toBe(words))

test('channels in words', () => {
  expect(
    wordChannels(
      layoutWith(
        '<Input><DataItem DataType="Integer16"/><DataItem DataType="Integer16"/><DataItem DataType="Unsigned8" UseAsBits="true"/></Input>',
      ),
    ),
  ).toBe('2 AI + 8 DI')
})

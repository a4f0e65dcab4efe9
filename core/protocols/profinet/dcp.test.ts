import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { formatIp } from '../../addressing'
import { decodeDcp, encodeDcp, identifyMulticast, type DcpBlock, type DcpFrame } from './dcp'
import { fromHex, toHex } from '../../vocabulary/hex'
import { hexIdent } from './idents'
import { decodeRealIdentification, encodeRealIdentification } from './real-identification'

const me = '02:4b:41:54:00:01'
const name = fc.string({ unit: fc.constantFrom(...'abcxyz0189-.'), maxLength: 60 })
const u16 = fc.nat(0xffff)
const ip = fc.nat(0xffffffff).map(formatIp)
const block: fc.Arbitrary<DcpBlock> = fc.oneof(
  name.map((text) => ({ kind: 'typeOfStation' as const, text })),
  name.map((text) => ({ kind: 'name' as const, name: text })),
  fc.record({ kind: fc.constant('ip' as const), ip, mask: ip, gateway: ip }),
  fc.record({ kind: fc.constant('deviceId' as const), vendorId: u16, deviceId: u16 }),
  fc.nat(255).map((role) => ({ kind: 'role' as const, role })),
  fc.constantFrom<DcpBlock>({ kind: 'signal' }, { kind: 'factoryReset' }),
  fc
    .array(fc.nat(255), { maxLength: 9 })
    .map((bytes) => ({ kind: 'unknown' as const, option: 0x80, suboption: 7, bytes })),
)
const frame: fc.Arbitrary<DcpFrame> = fc.record({
  destination: fc.constantFrom(identifyMulticast, '02:00:00:00:00:99'),
  source: fc.constant(me),
  service: fc.constantFrom('identifyAnswer' as const, 'set' as const),
  xid: fc.nat(0xffffffff),
  blocks: fc.array(block, { maxLength: 6 }),
})

describe('DCP frames', () => {
  test('what is written is read again', () => {
    fc.assert(
      fc.property(frame, (any) => {
        expect(decodeDcp(encodeDcp(any))).toEqual(any)
      }),
    )
  })

  test('any octets give a frame or a sentence, never a crash', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 90 }), frame, fc.nat(60), (rubbish, any, cut) => {
        for (const bytes of [rubbish, encodeDcp(any).slice(0, cut)]) {
          const decoded = decodeDcp(bytes)
          if ('fault' in decoded) expect(decoded.fault).toMatch(/\.$/)
        }
      }),
    )
  })

  // Octet by octet, IEC 61158-6-10 (from memory): identify to everybody, padded to 60 octets.
  test('identify to everybody', () => {
    const bytes = encodeDcp({
      destination: identifyMulticast,
      source: me,
      service: 'identify',
      xid: 7,
      blocks: [{ kind: 'all' }],
    })
    expect(toHex(bytes, bytes.length, '')).toBe(
      `010ecf000000${'024b41540001'}8892fefe0500000000070001${'0004'}ffff0000`.padEnd(120, '0'),
    )
  })

  test.each([
    ['too short', '00', 'at least 26'],
    ['another protocol', `${'00'.repeat(12)}0800${'00'.repeat(46)}`, 'EtherType 0x800'],
    ['another service', `${'00'.repeat(12)}8892fefd0300${'00'.repeat(42)}`, 'none that is known'],
    [
      'a length beyond the end',
      `${'00'.repeat(12)}8892fefd0401${'00000001'}0000ffff${'00'.repeat(34)}`,
      '65535 octets',
    ],
    [
      'a block cut off',
      `${'00'.repeat(12)}8892fefd0401${'00000001'}00000004${'050400ff'}${'00'.repeat(30)}`,
      'cut off',
    ],
  ])('%s is told', (_, hex, part) =>
    expect(decodeDcp(fromHex(hex))).toEqual({ fault: expect.stringContaining(part) }),
  )
})

describe('real identification', () => {
  const ident = fc.nat(0xffffffff).map(hexIdent)
  const modules = fc.array(
    fc.record({
      slot: u16,
      ident,
      submodules: fc.array(
        fc.record({
          subslot: u16,
          ident,
          inputBytes: fc.constant(0),
          outputBytes: fc.constant(0),
        }),
        { maxLength: 4 },
      ),
    }),
    { maxLength: 6 },
  )
  test('what is written is read again', () => {
    fc.assert(
      fc.property(modules, (any) => {
        expect(decodeRealIdentification(encodeRealIdentification(any))).toEqual(any)
      }),
    )
  })
  test('a record cut off is told', () => {
    const record = encodeRealIdentification([
      {
        slot: 1,
        ident: '00000002',
        submodules: [{ subslot: 1, ident: '00000003', inputBytes: 0, outputBytes: 0 }],
      },
    ])
    record[13] = 9
    expect(decodeRealIdentification(record)).toHaveProperty('fault')
    expect(decodeRealIdentification(record.slice(0, 20))).toHaveProperty('fault')
  })
})

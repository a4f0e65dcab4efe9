import fc from 'fast-check'
import { expect, test } from 'vitest'
import { ByteUse, UseIndex } from './indexes'

const key = fc.constantFrom('a', 'b', 'c')
const steps = fc.array(
  fc.record({ add: fc.boolean(), value: key, id: fc.constantFrom('1', '2', '3') }),
  { maxLength: 40 },
)

test('an index of uses knows what more than one uses', () => {
  fc.assert(
    fc.property(steps, (any) => {
      const index = new UseIndex<string>()
      const plain = new Set<string>()
      for (const { add, value, id } of any) {
        if (add) {
          index.add(value, id, id)
          plain.add(`${value}/${id}`)
        } else {
          index.drop(value, id)
          plain.delete(`${value}/${id}`)
        }
      }
      for (const value of ['a', 'b', 'c']) {
        const users = [...plain]
          .filter((entry) => entry.startsWith(value))
          .map((entry) => entry.slice(2))
          .sort()
        expect(index.usersOf(value).sort()).toEqual(users)
        expect([index.shared.has(value), index.has(value)]).toEqual([
          users.length > 1,
          users.length > 0,
        ])
      }
    }),
  )
})

test('a count of bytes knows how many are used twice, also beyond its first size', () => {
  const block = fc.record({ byte: fc.nat(3000), bytes: fc.integer({ min: 1, max: 64 }) })
  fc.assert(
    fc.property(fc.array(block, { maxLength: 12 }), fc.nat(12), (blocks, dropped) => {
      const use = new ByteUse()
      for (const { byte, bytes } of blocks) use.change(byte, bytes, 1)
      for (const { byte, bytes } of blocks.slice(0, dropped)) use.change(byte, bytes, -1)
      const counts = new Map<number, number>()
      for (const { byte, bytes } of blocks.slice(dropped))
        for (let at = byte; at < byte + bytes; at++) counts.set(at, (counts.get(at) ?? 0) + 1)
      expect(use.doubled).toBe([...counts.values()].filter((count) => count > 1).length)
    }),
  )
})

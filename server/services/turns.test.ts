import fc from 'fast-check'
import { expect, test } from 'vitest'
import { Turns } from './turns'

const later = () => new Promise((done) => setImmediate(done))

// However much of what waits is done at a time, everybody is answered once, in order, one turn of a
// key after the other.
test('everything is done once and in order', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.record({ key: fc.constantFrom('a', 'b'), wait: fc.boolean() }), {
        maxLength: 30,
      }),
      fc.array(fc.integer({ min: 1, max: 5 }), { minLength: 1 }),
      async (asks, portions) => {
        const done: Record<string, number[]> = { a: [], b: [] }
        const busy = new Set<string>()
        let turn = 0
        const turns = new Turns<number, number>(async (key, waiting) => {
          expect(busy.has(key)).toBe(false)
          busy.add(key)
          await later()
          const portion = waiting().slice(0, portions[turn++ % portions.length])
          done[key]!.push(...portion)
          busy.delete(key)
          return portion.map((asked) => ({ result: asked * 2 }))
        })
        const answers: Promise<number>[] = []
        for (const [i, { key, wait }] of asks.entries()) {
          answers.push(turns.ask(key, i))
          if (wait) await later()
        }
        expect(await Promise.all(answers)).toEqual(asks.map((_, i) => i * 2))
        for (const key of ['a', 'b'])
          expect(done[key]).toEqual(asks.flatMap((ask, i) => (ask.key === key ? [i] : [])))
      },
    ),
    { numRuns: 50 },
  )
})

test('a turn that fails is the failure of the first, and the others go on', async () => {
  const turns = new Turns<string, string>(async (_, waiting) => {
    const [first] = waiting()
    if (first === 'bad') throw new Error('no')
    return waiting().map((asked) =>
      asked === 'refused' ? { error: new Error(asked) } : { result: asked },
    )
  })
  const asked = ['bad', 'one', 'refused', 'two'].map((what) => turns.ask('key', what))
  expect(
    (await Promise.allSettled(asked)).map((settled) =>
      settled.status === 'fulfilled' ? settled.value : (settled.reason as Error).message,
    ),
  ).toEqual(['no', 'one', 'refused', 'two'])
})

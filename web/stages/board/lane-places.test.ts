import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { nextPlaces, type LanePlace } from './lane-places'

const always = () => true
const idsOf = (places: readonly LanePlace[]) =>
  places.flatMap(({ id }) => (id === null ? [] : [id]))

describe('places of lanes', () => {
  test('who stays keeps its place, who comes is drawn over who left', () => {
    const first = nextPlaces([], ['a', 'b', 'c'], always, 'lane', null)
    const second = nextPlaces(first, ['b', 'c', 'd'], (id) => id !== 'd', 'lane', null)
    expect(second).toEqual([
      { place: 0, id: 'd', drawn: { id: 'a', zoom: 'lane' } },
      { place: 1, id: 'b', drawn: { id: 'b', zoom: 'lane' } },
      { place: 2, id: 'c', drawn: { id: 'c', zoom: 'lane' } },
    ])
    expect(nextPlaces(second, ['b', 'c', 'd'], always, 'lane', null)[0]!.drawn).toEqual({
      id: 'd',
      zoom: 'lane',
    })
  })
  test('who comes back gets the place where it is still drawn', () => {
    const gone = nextPlaces(
      nextPlaces([], ['a', 'b', 'c'], always, 'lane', null),
      ['c'],
      always,
      'lane',
      null,
    )
    expect(
      nextPlaces(gone, ['c', 'b'], () => false, 'lane', null).find(({ id }) => id === 'b')!.drawn,
    ).toEqual({ id: 'b', zoom: 'lane' })
  })
  test('the lane with the focus is taken away rather than drawn over', () => {
    const next = nextPlaces(
      nextPlaces([], ['a', 'b'], always, 'lane', 'a'),
      ['b', 'c'],
      () => false,
      'lane',
      'a',
    )
    expect(next).toEqual([
      { place: 1, id: 'b', drawn: { id: 'b', zoom: 'lane' } },
      { place: 2, id: 'c', drawn: null },
    ])
  })
  test('whatever is looked at: each has one place, nobody moves, spare places become few', () => {
    const windows = fc.array(
      fc.record({ first: fc.nat(60), count: fc.integer({ min: 1, max: 30 }), ready: fc.nat(60) }),
      { minLength: 1, maxLength: 30 },
    )
    fc.assert(
      fc.property(windows, (looks) => {
        let places: readonly LanePlace[] = []
        for (const { first, count, ready } of looks) {
          const shown = Array.from({ length: count }, (_, i) => `s${first + i}`)
          const next = nextPlaces(places, shown, (id) => Number(id.slice(1)) < ready, 'lane', null)
          expect(idsOf(next).sort()).toEqual([...shown].sort())
          expect(new Set(next.map(({ place }) => place)).size).toBe(next.length)
          for (const { place, id } of places)
            if (id !== null && shown.includes(id))
              expect(next.find((one) => one.id === id)!.place).toBe(place)
          for (const { id, drawn } of next)
            if (id !== null && Number(id.slice(1)) < ready) expect(drawn?.id).toBe(id)
          places = next
        }
        for (let i = 0; i < 60; i++) places = nextPlaces(places, ['s0'], always, 'lane', null)
        expect(places.length).toBeLessThanOrEqual(5)
      }),
    )
  })
})

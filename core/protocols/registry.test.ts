import { describe, expect, test } from 'vitest'
import { kindNamed, networkKindNames } from '.'
import { protocols } from './list'

describe('the protocols', () => {
  test('have names of their own, and kinds that no other has', () => {
    const names = protocols.map(({ name }) => name)
    expect(new Set(names).size).toBe(names.length)
    const kinds = protocols.flatMap((one) => Object.keys(one.kinds))
    expect(new Set(kinds).size).toBe(kinds.length)
    expect(networkKindNames).toEqual(kinds)
  })

  test.each(networkKindNames)(
    '%s: numbers begin within their range, IP and settings agree',
    (name) => {
      const { number, hasIp, settings } = kindNamed(name)
      expect(number.start).toBeGreaterThanOrEqual(number.first)
      expect(number.start).toBeLessThanOrEqual(number.last)
      expect(['controllerIp' in settings.network, 'ip' in settings.station]).toEqual([
        hasIp === true,
        hasIp === true,
      ])
    },
  )
})

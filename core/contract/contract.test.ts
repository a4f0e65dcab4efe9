import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { z } from 'zod'
import { contract, urlOf, type EndpointShape } from '.'

const entries: readonly (readonly [string, EndpointShape])[] = Object.entries(contract)

describe('the contract', () => {
  test.each(entries)('%s has a schema for each part of its path, and no other', (_, shape) => {
    const inPath = [...shape.path.matchAll(/\{(\w+)\}/g)].map(([, name]) => name)
    const described = shape.params instanceof z.ZodObject ? Object.keys(shape.params.shape) : []
    expect(described.sort()).toEqual(inPath.sort())
  })

  test('no two are reached the same way', () => {
    const ways = entries.map(([, { method, path }]) => `${method} ${path}`)
    expect(new Set(ways).size).toBe(ways.length)
  })

  test('what only looks takes no body', () => {
    for (const [name, { method, body, isRaw }] of entries)
      if (method === 'get') expect([name, body, isRaw]).toEqual([name, undefined, undefined])
  })
})

test('parts and questions come back from an address as they went in', () => {
  fc.assert(
    fc.property(fc.string({ minLength: 1 }), fc.string(), (name, language) => {
      // A URL takes these for folders.
      fc.pre(name !== '.' && name !== '..')
      const url = new URL(urlOf({ path: '/a/{name}/b' }, { name }, { language }), 'http://x')
      const [, first, given, last] = url.pathname.split('/')
      expect([first, decodeURIComponent(given!), last]).toEqual(['a', name, 'b'])
      expect(url.searchParams.get('language')).toBe(language)
    }),
  )
})

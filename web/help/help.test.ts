import { existsSync, readFileSync } from 'node:fs'
import { expect, test } from 'vitest'
import { everywhere, stageKeys } from './keys'
import { stageHelp } from './stage-help'

const root = new URL('../../', import.meta.url).pathname
const stages = [...readFileSync(`${root}web/router.ts`, 'utf8').matchAll(/name: '(\w+)'/g)].map(
  ([, name]) => name!,
)

test('every stage has its help', () => {
  expect(stages.length).toBeGreaterThan(10)
  expect(Object.keys(stageHelp).sort()).toEqual([...stages].sort())
})

test.each(Object.entries(stageHelp))('the help of %s is short and has its page', (_, help) => {
  expect(existsSync(`${root}docs/${help.page}`)).toBe(true)
  for (const sentence of [help.isFor, ...help.steps, ...help.hints])
    expect(sentence.split(/\s+/).length).toBeLessThanOrEqual(20)
})

test('the keys are those of the manual', () => {
  const rows = readFileSync(`${root}docs/using/keys.md`, 'utf8').replaceAll('`', '')
  const missing = [...everywhere, ...Object.values(stageKeys).flat()]
    .map(([key]) => key)
    .filter((key) => !rows.includes(`| ${key} |`))
  expect(missing).toEqual([])
})

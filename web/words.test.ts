import { readdirSync, readFileSync } from 'node:fs'
import { expect, test } from 'vitest'

/** Words of the interface that have to be guessed at, with what is said instead: see
 *  `docs/words.md`. */
const ruledOut: readonly (readonly [words: RegExp, instead: string])[] = [
  [/\b(somebody|nobody|everybody)\b/i, 'who it is, or "not known"'],
  [/\btakes? it\b/i, 'Apply, Download, Import'],
  [/\bas it is now\b/i, 'the present state'],
  [/\bleave it\b/i, 'Cancel'],
  [/\bbring (it |one |a \w+ )?in\b/i, 'Add, Import, Open'],
  [/\banew\b/i, 'again'],
  [/\bforget\b/i, 'Delete'],
  [/\d waiting\b/i, 'unassigned'],
]
const here = new URL('.', import.meta.url).pathname
const templates = readdirSync(here, { recursive: true, encoding: 'utf8' }).filter(
  (name) => name.endsWith('.vue') && !/^(dist|node_modules)\//.test(name),
)

/** What a person reads of a template: its text and the attributes that are words. */
function shown(source: string): string {
  const template = /<template>([\s\S]*)<\/template>/.exec(source)?.[1] ?? ''
  const attributes = [
    ...template.matchAll(/\s(?:label|title|placeholder|aria-label)="([^"]*)"/g),
  ].map((match) => match[1]!)
  const text = template
    .replace(/<!--[\s\S]*?-->/g, '')
    .replace(/<(?:[^>"]|"[^"]*")*>/g, '\n')
    .replace(/\{\{[\s\S]*?\}\}/g, ' … ')
  return [text, ...attributes].join('\n')
}

test('there are templates to look at', () => expect(templates.length).toBeGreaterThan(100))

test.each(ruledOut)('%s is said plainly: %s', (words) => {
  const found = templates.filter((name) => words.test(shown(readFileSync(here + name, 'utf8'))))
  expect(found).toEqual([])
})

import { readdirSync, readFileSync } from 'node:fs'
import ts from 'typescript'
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

const root = new URL('../', import.meta.url).pathname
/** Scripts whose texts people read: the interface, findings, refusals. */
const scripts = ['web', 'core/checks', 'core/plan', 'core/signals', 'server/services'].flatMap(
  (folder) =>
    readdirSync(root + folder, { recursive: true, encoding: 'utf8' })
      .filter(
        (name) =>
          /\.(ts|vue)$/.test(name) &&
          !/\.test\.ts$/.test(name) &&
          !/^(dist|node_modules)\//.test(name),
      )
      .map((name) => `${folder}/${name}`),
)
/** Texts of more than one word in a script, without what is computed. */
function textsOf(name: string): string {
  const source = readFileSync(root + name, 'utf8')
  const script = name.endsWith('.vue')
    ? (/<script[^>]*>([\s\S]*?)<\/script>/.exec(source)?.[1] ?? '')
    : source
  const texts: string[] = []
  const visit = (node: ts.Node): void => {
    if (ts.isStringLiteralLike(node)) texts.push(node.text)
    else if (ts.isTemplateHead(node) || ts.isTemplateMiddle(node) || ts.isTemplateTail(node))
      texts.push(node.text)
    ts.forEachChild(node, visit)
  }
  visit(ts.createSourceFile(name, script, ts.ScriptTarget.Latest))
  return texts.filter((text) => text.includes(' ')).join('\n')
}

/** Everything that people read, by the file that says it. */
const read = [
  ...templates.map((name) => [name, shown(readFileSync(here + name, 'utf8'))] as const),
  ...scripts.map((name) => [name, textsOf(name)] as const),
]

test('there are templates to look at', () => expect(templates.length).toBeGreaterThan(100))

test.each(ruledOut)('%s is said plainly: %s', (words) =>
  expect(read.flatMap(([name, texts]) => (words.test(texts) ? [name] : []))).toEqual([]),
)

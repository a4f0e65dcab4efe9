import type { Derived } from '../../derive/derive'
import type { Id } from '../../plan/model'
import { wordsOfOrigin, type Origin } from '../origin'
import { scalingInputs, type ScalingBlock } from './scaling'
import { wordType } from './types'
import { programVariables, type ControllerVariables, type Variable } from './variables'

/** A text within a comment: what would end it or begin another one is pulled apart. */
const harmless = (text: string) =>
  /[*\s]/.test(text)
    ? text.replaceAll('*)', '* )').replaceAll('(*', '( *').replace(/\s+/g, ' ')
    : text
const comment = (text: string) => (text === '' ? '' : ` (* ${harmless(text)} *)`)

const restOf = ({ type, comment: words }: Variable) => `${wordType(type)};${comment(words)}`

/** Named signals as Structured Text (IEC 61131-3): a structure type for each station, all of them as
 *  global variables at their addresses, and for each controller a program that scales its analog
 *  values. A tag that is no identifier is left out and named in a comment. */
export function writeDeclarations(derived: Derived, origin: Origin, controllerId?: Id): string {
  const { controllers, blocks, leftOut } = programVariables(derived, controllerId)
  const words = wordsOfOrigin(origin).join(', ')
  const lines = [`(* ${harmless(derived.plan.project.name)}: signals, by Kataxis, ${words} *)`, '']
  for (const { structures } of controllers) {
    for (const { name, comment: ofStation, members } of structures) {
      lines.push(`TYPE ${name} :${comment(ofStation)}`, 'STRUCT')
      for (const one of members) lines.push(`    ${one.name} : ${restOf(one)}`)
      lines.push('END_STRUCT', 'END_TYPE', '')
    }
  }
  for (const one of controllers) {
    if (controllers.length > 1) lines.push(`(* ${harmless(one.controller.name)} *)`)
    lines.push('VAR_GLOBAL')
    for (const { name, address, ...rest } of one.variables)
      lines.push(
        `    ${name}${address === null ? '' : ` AT ${address}`} : ${restOf({ name, address, ...rest })}`,
      )
    for (const { name, comment: of } of one.scaled) lines.push(`    ${name} : REAL;${comment(of)}`)
    lines.push('END_VAR', '')
  }
  if (controllers.some(({ scaled }) => scaled.length > 0))
    lines.push(...[blocks.linear, blocks.root].flatMap(blockLines))
  for (const one of controllers)
    if (one.scaled.length > 0) lines.push(...programLines(one, blocks.share))
  lines.push(...leftOut.map(({ tag, why }) => `(* left out: ${harmless(tag)}; ${harmless(why)} *)`))
  return lines.join('\n')
}

const blockLines = ({ name, comment: of, body }: ScalingBlock) => [
  `FUNCTION ${name} : REAL${comment(of)}`,
  'VAR_INPUT',
  `    ${scalingInputs.join(', ')} : REAL;`,
  'END_VAR',
  `    ${body}`,
  'END_FUNCTION',
  '',
]

function programLines({ scalingProgram, scaled }: ControllerVariables, share: string): string[] {
  return [
    `PROGRAM ${scalingProgram}`,
    'VAR',
    `    ${share} : REAL;`,
    'END_VAR',
    ...scaled.flatMap(({ statement }) => statement.split('\n').map((line) => `    ${line}`)),
    'END_PROGRAM',
    '',
  ]
}

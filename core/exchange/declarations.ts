import { formatAddress } from '../addressing/notations'
import type { Channel } from '../catalog/layout'
import { channelAddress, type Derived, type DerivedStation } from '../derive/derive'
import { kindOf } from '../protocols/registry'
import { legalTag, tagFault } from '../tags/identifier'
import { listChannels } from './io-list'

/** Elementary types of IEC 61131-3 (6.4.2) by how data of a description are called and how wide
 *  they are. */
const types: readonly (readonly [words: RegExp, bits: number, type: string])[] = [
  [/^(float|real)/i, 32, 'REAL'],
  [/^(float|real|lreal)/i, 64, 'LREAL'],
  [/^(unsigned|u)/i, 8, 'USINT'],
  [/^(unsigned|u)/i, 16, 'UINT'],
  [/^(unsigned|u)/i, 32, 'UDINT'],
  [/^(integer|int|sint|dint)/i, 8, 'SINT'],
  [/^(integer|int)/i, 16, 'INT'],
  [/^(integer|int|dint)/i, 32, 'DINT'],
  [/./, 8, 'BYTE'],
  [/./, 16, 'WORD'],
  [/./, 32, 'DWORD'],
  [/./, 64, 'LWORD'],
]

const known = new Map<string, string>()
function typeOf({ bits, type }: Channel): string {
  if (bits === 1) return 'BOOL'
  const key = `${bits} ${type}`
  let elementary = known.get(key)
  if (elementary === undefined) known.set(key, (elementary = elementaryType(bits, type)))
  return elementary
}

function elementaryType(bits: number, type: string): string {
  return (
    types.find(([words, width]) => width === bits && words.test(type))?.[2] ??
    `ARRAY [0..${Math.ceil(bits / 8) - 1}] OF BYTE`
  )
}

/** A text within a comment: what would end it or begin another one is pulled apart. */
const harmless = (text: string) =>
  /[*\s]/.test(text)
    ? text.replaceAll('*)', '* )').replaceAll('(*', '( *').replace(/\s+/g, ' ')
    : text
const comment = (text: string) => (text === '' ? '' : ` (* ${harmless(text)} *)`)

/** Named signals as Structured Text (IEC 61131-3): a structure type for each station, and all of
 *  them as global variables at their addresses. A tag that is no identifier is left out and named
 *  in a comment. */
export function writeDeclarations(derived: Derived): string {
  const { project } = derived.plan
  const types: string[] = []
  const globals: string[] = []
  const leftOut: string[] = []
  const structureName = namesOnce((name) => legalTag(name, { ...project, tagCase: 'any' }))
  let structure: DerivedStation | null = null
  const end = () => structure && types.push('END_STRUCT', 'END_TYPE', '')

  // The channels of a station come one after the other.
  for (const { view, module, channel, signal } of listChannels(derived)) {
    if (!signal || signal.tag === '') continue
    const fault = tagFault(signal.tag, project)
    if (fault !== null) {
      leftOut.push(`(* left out: ${harmless(signal.tag)}; ${harmless(fault)} *)`)
      continue
    }
    if (structure !== view) {
      end()
      structure = view
      types.push(
        `TYPE ${structureName(view.station.name)} :${comment(wordsOf(view, derived))}`,
        'STRUCT',
      )
    }
    const at = channelAddress(module, channel)
    const rest = `${typeOf(channel)};${comment(signal.comment)}`
    types.push(`    ${signal.tag} : ${rest}`)
    globals.push(`    ${signal.tag}${at ? ` AT ${formatAddress(at, 'iec')}` : ''} : ${rest}`)
  }
  end()
  return [
    `(* ${harmless(project.name)}: signals, by Kataxis *)`,
    '',
    ...types,
    'VAR_GLOBAL',
    ...globals,
    'END_VAR',
    '',
    ...leftOut,
  ].join('\n')
}

/** A legal name for each station, which no other one has. */
function namesOnce(legal: (name: string) => string): (name: string) => string {
  const seen = new Set<string>()
  return (name) => {
    let own = legal(`T_${name}`) || 'T_station'
    for (let i = 2; seen.has(own.toUpperCase()); i++) own = legal(`T_${name}_${i}`)
    seen.add(own.toUpperCase())
    return own
  }
}

function wordsOf({ station }: DerivedStation, { plan }: Derived): string {
  const network = plan.networks[station.networkId]
  return [station.name, network && kindOf(network).name, station.comment].filter(Boolean).join(', ')
}

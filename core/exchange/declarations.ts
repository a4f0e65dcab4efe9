import { formatAddress } from '../addressing/notations'
import type { Channel } from '../catalog/layout'
import { channelAddress, type Derived, type DerivedStation } from '../derive/derive'
import type { DataKind } from '../vocabulary'
import { kindOf } from '../protocols/registry'
import { legalTag, tagFault } from '../tags/identifier'
import { listChannels } from './io-list'

/** Elementary types of IEC 61131-3 (6.4.2) by what a value holds and how wide it is. */
const elementaryTypes: Readonly<Partial<Record<DataKind, Readonly<Record<number, string>>>>> = {
  float: { 32: 'REAL', 64: 'LREAL' },
  unsigned: { 8: 'USINT', 16: 'UINT', 32: 'UDINT', 64: 'ULINT' },
  signed: { 8: 'SINT', 16: 'INT', 32: 'DINT', 64: 'LINT' },
}
const bitStrings: Readonly<Record<number, string>> = {
  1: 'BOOL',
  8: 'BYTE',
  16: 'WORD',
  32: 'DWORD',
  64: 'LWORD',
}

function typeOf({ bits, holds }: Channel): string {
  return (
    elementaryTypes[holds]?.[bits] ??
    bitStrings[bits] ??
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

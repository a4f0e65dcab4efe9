import { formatAddress } from '../addressing/notations'
import type { Channel } from '../catalog/layout'
import { channelAddress, type Derived, type DerivedStation } from '../derive/derive'
import { kindOf } from '../protocols/registry'
import { legalTag, tagFault } from '../tags/identifier'
import { listChannels, type ListedChannel } from './io-list'

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

function typeOf({ bits, type }: Channel): string {
  if (bits === 1) return 'BOOL'
  return (
    types.find(([words, width]) => width === bits && words.test(type))?.[2] ??
    `ARRAY [0..${Math.ceil(bits / 8) - 1}] OF BYTE`
  )
}

/** A text within a comment: what would end it or begin another one is pulled apart. */
const harmless = (text: string) =>
  text.replaceAll('*)', '* )').replaceAll('(*', '( *').replace(/\s+/g, ' ')
const comment = (text: string) => (text === '' ? '' : ` (* ${harmless(text)} *)`)

/** Named signals as Structured Text (IEC 61131-3): a structure type for each station, and all of
 *  them as global variables at their addresses. A tag that is no identifier is left out and named
 *  in a comment. */
export function writeDeclarations(derived: Derived): string {
  const { project } = derived.plan
  const lines = [`(* ${harmless(project.name)}: signals, by Kataxis *)`, '']
  const named = [...listChannels(derived)].filter(
    (one): one is ListedChannel & { signal: NonNullable<ListedChannel['signal']> } =>
      one.signal !== null && one.signal.tag !== '',
  )
  const legal = named.filter(({ signal }) => tagFault(signal.tag, project) === null)
  const seen = new Set<string>()
  const ownName = (name: string) => {
    let own = legalTag(`T_${name}`, { ...project, tagCase: 'any' }) || 'T_station'
    for (let i = 2; seen.has(own.toUpperCase()); i++)
      own = legalTag(`T_${name}_${i}`, { ...project, tagCase: 'any' })
    seen.add(own.toUpperCase())
    return own
  }
  const byStation = new Map<DerivedStation, typeof legal>()
  for (const one of legal) {
    const own = byStation.get(one.view)
    if (own) own.push(one)
    else byStation.set(one.view, [one])
  }
  for (const [view, own] of byStation) {
    const network = derived.plan.networks[view.station.networkId]
    lines.push(
      `TYPE ${ownName(view.station.name)} :${comment(`${view.station.name}${network ? `, ${kindOf(network).name}` : ''}${view.station.comment ? `, ${view.station.comment}` : ''}`)}`,
      'STRUCT',
    )
    for (const { signal, channel } of own)
      lines.push(`    ${signal.tag} : ${typeOf(channel)};${comment(signal.comment)}`)
    lines.push('END_STRUCT', 'END_TYPE', '')
  }
  lines.push('VAR_GLOBAL')
  for (const { signal, module, channel } of legal) {
    const at = channelAddress(module, channel)
    lines.push(
      `    ${signal.tag}${at ? ` AT ${formatAddress(at, 'iec')}` : ''} : ${typeOf(channel)};${comment(signal.comment)}`,
    )
  }
  lines.push('END_VAR', '')
  for (const { signal } of named) {
    const fault = tagFault(signal.tag, project)
    if (fault) lines.push(`(* left out: ${harmless(signal.tag)}; ${harmless(fault)} *)`)
  }
  return lines.join('\n')
}

import { entrySteps, isEntered, positionsFor, wordPositions } from '../../addressing/switches'
import { switchAddress, switchesOf } from '../../changing/identities'
import type { Derived } from '../../derive/derive'
import { kindOf, wordSetBy } from '../../protocols/registry'
import { ipOf, roleNameOf } from '../../protocols/settings'
import type { ExportOptions } from '../options'
import { chosenStations, type ChosenStation } from './chosen'
import type { Block, Figure } from './flow'
import { moved, type Mark, type Measure } from './marks'
import { switchFigure } from './switch-figure'
import { printable, wrap } from './text'

const card = { width: 256, height: 196, inset: 12 } as const

/** A card for each station that has an address, to be hung in its cabinet: name, address, and its
 *  switches as they have to stand, or how else the address gets into it. */
export function switchCardBlocks(
  derived: Derived,
  options: ExportOptions,
  measure: Measure,
): Block[] {
  const figures = chosenStations(derived, options)
    .filter(({ network }) => kindOf(network).isController !== true && kindOf(network).times)
    .map((one) => cardOf(one, measure))
  return figures.length === 0
    ? [{ kind: 'text', text: 'No station of this plan has an address that is set on it.' }]
    : [{ kind: 'figures', figures }]
}

function cardOf({ controller, view, network }: ChosenStation, measure: Measure): Figure {
  const { station } = view
  const kind = kindOf(network)
  const bank = switchesOf(view.device, station)
  const address = bank && switchAddress(bank, station)
  const positions = bank && address !== null ? positionsFor(bank, address) : null
  const figure = bank && positions ? switchFigure(bank, positions) : null
  const inside = card.width - 2 * card.inset
  const marks: Mark[] = []
  let y = 10
  const put = (
    text: string,
    size: number,
    face: 'strong' | 'narrow' | 'mono' | 'text',
    most = 9,
    ink: 'ink' | 'quiet' = 'ink',
  ) => {
    for (const line of wrap(text, inside, face, size, measure).slice(0, most)) {
      y += size * 1.2
      marks.push({ kind: 'text', x: card.inset, y, text: line, face, size, ink })
    }
  }
  put(station.name, 15, 'strong', 2)
  put([controller.name, network.name, kind.name].join(' · '), 8, 'narrow', 2, 'quiet')
  put(
    [view.device?.name, view.device?.orderNumber].filter(Boolean).join(' · '),
    8,
    'narrow',
    2,
    'quiet',
  )
  y += 4
  const isIp = kind.hasIp === true && ipOf(station) !== ''
  put(isIp ? ipOf(station) : `${kind.number.word} ${station.deviceNumber}`, 13, 'mono', 1)
  const role = roleNameOf(station)
  if (role !== '') put(`served under the role name ${role}`, 8, 'narrow', 2)
  if (figure) {
    const scale = Math.min(1, inside / figure.width)
    if (scale === 1) {
      marks.push(...moved(figure.marks, card.inset, y + 6))
      y += figure.height + 6
    }
  }
  y += 4
  const words =
    bank && isEntered(bank) && address !== null
      ? entrySteps(bank, address, isIp ? ipOf(station) : undefined).map(
          (step, i) => `${i + 1}. ${step}`,
        )
      : bank
        ? [
            positions
              ? wordPositions(bank, positions)
              : `These switches cannot make ${address ?? 'an address that is not chosen yet'}.`,
            ...(bank.powerCycle ? ['Takes effect after power-cycling.'] : []),
          ]
        : [wordSetBy(view, bank)]
  for (const line of words) put(printable(line), 8, 'text', Infinity)
  const height = Math.max(card.height, y + card.inset)
  return {
    width: card.width,
    height,
    marks: [{ kind: 'box', x: 0, y: 0, width: card.width, height, line: 'line' }, ...marks],
  }
}

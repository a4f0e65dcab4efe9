import type { Derived } from '../../derive/derive'
import type { Terminal } from '../../catalog/model'
import { kindOfChannel } from '../../catalog/words'
import { electricalOf, pinTerminals, wiringOf, type Wiring, type WiringBox } from '../../signals'
import type { StationChannel } from '../io-list'
import type { ExportOptions } from '../options'
import { chosenChannels, chosenStations } from './chosen'
import type { Block, Figure } from './flow'
import type { Mark, Measure } from './marks'
import { wrap } from './text'

const sheet = { width: 256, top: 44, pitch: 24, boxWidth: 66 } as const

/** The circuit of each named signal, station by station: device, channel, supply, the conductors
 *  between them and who feeds whom. */
export function circuitBlocks(derived: Derived, options: ExportOptions, measure: Measure): Block[] {
  return chosenStations(derived, options).flatMap(({ view, network }): Block[] => {
    const figures = [...chosenChannels(view, options)]
      .filter(({ channel, signal }) => signal && signal.tag !== '' && channel.kind !== 'port')
      .map((one) => circuitFigure(one, measure))
    return figures.length === 0
      ? []
      : [
          { kind: 'heading', text: view.station.name, note: network.name },
          { kind: 'figures', figures },
        ]
  })
}

function circuitFigure({ module, channel, signal }: StationChannel, measure: Measure): Figure {
  const electrical = electricalOf(module.described)
  const wiring = wiringOf(channel, signal!.facts, electrical)
  const own = terminalsOf(module.described, channel.name)
  const terminals = pinTerminals(wiring, own)
  const rows = Math.max(wiring.pins.device.length, wiring.pins.channel.length)
  const boxHeight = 22 + rows * sheet.pitch
  const hasSupply = wiring.pins.supply.length > 0
  const marks: Mark[] = []
  let y = 0
  const put = (text: string, size: number, face: 'strong' | 'narrow' | 'mono', most: number) => {
    for (const line of wrap(text, sheet.width, face, size, measure).slice(0, most)) {
      y += size * 1.2
      marks.push({ kind: 'text', x: 0, y, text: line, face, size })
    }
  }
  put(signal!.tag, 9, 'strong', 1)
  put(
    [
      `slot ${module.slot}, ${channel.name}`,
      kindOfChannel(channel),
      signal!.terminal && `terminal ${signal!.terminal}`,
      signal!.comment,
    ]
      .filter(Boolean)
      .join(' · '),
    7,
    'narrow',
    2,
  )
  marks.push(...drawing(wiring, terminals, boxHeight))
  y = sheet.top + boxHeight + (hasSupply ? 58 : 6)
  put([wiring.fed, ...wiring.assumed].join(' '), 7, 'narrow', 3)
  return { width: sheet.width, height: Math.max(y, sheet.top + boxHeight) + 12, marks }
}

function terminalsOf(
  described: StationChannel['module']['described'],
  channel: string,
): readonly Terminal[] {
  return described && 'terminals' in described
    ? (described.terminals ?? []).filter((one) => one.channel === channel)
    : []
}

function drawing(
  { pins, conductors }: Wiring,
  terminals: ReadonlyMap<string, string>,
  boxHeight: number,
): Mark[] {
  const { width, top, pitch, boxWidth } = sheet
  const supplyTop = top + boxHeight + 14
  const supplyX = (width - boxWidth) / 2
  const at = (box: WiringBox, pin: string): readonly [number, number] => {
    const index = pins[box].indexOf(pin)
    if (box === 'supply') return [supplyX + 18 + index * 32, supplyTop]
    return [box === 'device' ? boxWidth : width - boxWidth, top + 26 + index * pitch]
  }
  const marks: Mark[] = []
  const heading = (text: string, x: number, y: number) =>
    marks.push({ kind: 'text', x, y, text, align: 'center', face: 'narrowStrong', size: 7 })
  const body = (x: number, y: number, height: number) =>
    marks.push({ kind: 'box', x, y, width: boxWidth, height, fill: 'shade', line: 'quiet' })
  body(0, top, boxHeight)
  body(width - boxWidth, top, boxHeight)
  heading('Device', boxWidth / 2, top + 10)
  heading('Channel', width - boxWidth / 2, top + 10)
  if (pins.supply.length > 0) {
    body(supplyX, supplyTop, 34)
    const isOpen = conductors.some((one) => one.isOpen)
    heading(isOpen ? 'Fed by whom?' : '24 V supply', supplyX + boxWidth / 2, supplyTop + 28)
  }
  for (const [i, { from, to, words, isOpen }] of conductors.entries()) {
    const [a, b] = [at(from.box, from.pin), at(to.box, to.pin)]
    const supply = from.box === 'supply' ? a : to.box === 'supply' ? b : null
    const other = supply === a ? b : a
    const lane = boxWidth + 8 + ((i + 1) * (width - 2 * boxWidth - 16)) / (conductors.length + 1)
    marks.push({
      kind: 'line',
      points: supply ? [other, [supply[0], other[1]], supply] : [a, [lane, a[1]], [lane, b[1]], b],
      width: 0.9,
      ...(isOpen && { dash: 3, ink: 'quiet' as const }),
    })
    marks.push({
      kind: 'text',
      x: supply ? (other[0] + supply[0]) / 2 : (a[0] + lane) / 2,
      y: (supply ? other[1] : a[1]) - 3,
      ...{ text: words, align: 'center', face: 'narrow', size: 6, ink: 'quiet' },
    })
  }
  for (const box of ['device', 'channel', 'supply'] as const)
    for (const pin of pins[box]) {
      const [x, y] = at(box, pin)
      const terminal = box === 'channel' ? (terminals.get(pin) ?? '') : ''
      marks.push({ kind: 'circle', x, y, radius: 2, fill: 'paper', line: 'ink' })
      marks.push({
        kind: 'text',
        ...(box === 'supply'
          ? { x, y: y + 11, align: 'center' }
          : {
              x: x + (box === 'device' ? -5 : 5),
              y: y + 2.5,
              align: box === 'device' ? 'right' : 'left',
            }),
        text: terminal === '' ? pin : `${pin} · ${terminal}`,
        ...{ face: 'mono', size: 6.5 },
      })
    }
  return marks
}

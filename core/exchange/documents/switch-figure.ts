import {
  isDip,
  isRotary,
  radixOf,
  switchCount,
  weightsOf,
  type Positions,
} from '../../addressing/switches'
import type { SwitchBank } from '../../vocabulary/switch-bank'
import type { Figure } from './flow'
import type { Mark } from './marks'

/** The switches of a housing as they have to stand; null where there is nothing to draw. */
export function switchFigure(bank: SwitchBank, positions: Positions): Figure | null {
  if (isRotary(bank))
    return {
      width: switchCount(bank) * 72,
      height: 78,
      marks: positions.flatMap((digit, i) => dialMarks(digit, radixOf(bank), 36 + i * 72)),
    }
  if (isDip(bank)) {
    const weights = weightsOf(bank)
    return {
      width: weights.length * 24 + 12,
      height: 70,
      marks: [
        {
          kind: 'box',
          ...{ x: 0, y: 10, width: weights.length * 24 + 12, height: 40 },
          line: 'ink',
        },
        { kind: 'text', x: 0, y: 7, text: 'ON', face: 'narrowStrong', size: 7 },
        ...weights.flatMap((weight, i) => dipMarks(positions[i] === 1, weight, i)),
      ],
    }
  }
  if (bank.style === 'jumper')
    return {
      width: bank.positions.length * 30,
      height: 62,
      marks: bank.positions.flatMap(({ label }, i) => jumperMarks(label, positions[0] === i, i)),
    }
  return null
}

/** A rotary switch: 0 points up, digits go round clockwise. */
function dialMarks(digit: number, radix: number, x: number): Mark[] {
  const y = 38
  const at = (value: number, radius: number) => {
    const angle = (value / radix) * 2 * Math.PI
    return [x + Math.sin(angle) * radius, y - Math.cos(angle) * radius] as const
  }
  return [
    { kind: 'circle', x, y, radius: 22, line: 'ink', fill: 'paper' },
    ...Array.from({ length: radix }, (_, value): Mark => {
      const [left, top] = at(value, 29)
      return {
        kind: 'text',
        ...{ x: left, y: top + 2.6, align: 'center', size: 7 },
        text: value.toString(16).toUpperCase(),
        face: value === digit ? 'strong' : 'narrow',
        ink: value === digit ? 'ink' : 'quiet',
      }
    }),
    { kind: 'line', points: [[x, y], at(digit, 19)], width: 2.4 },
    { kind: 'circle', x, y, radius: 3.5, fill: 'ink' },
    {
      kind: 'text',
      ...{ x, y: 76, align: 'center', face: 'mono', size: 8 },
      text: digit.toString(16).toUpperCase(),
    },
  ]
}

function dipMarks(isOn: boolean, weight: number, i: number): Mark[] {
  const x = 6 + i * 24
  return [
    { kind: 'box', x: x + 5, y: 14, width: 14, height: 32, fill: 'shade', line: 'quiet' },
    { kind: 'box', x: x + 5, y: isOn ? 14 : 30, width: 14, height: 16, fill: 'ink' },
    {
      kind: 'text',
      ...{ x: x + 12, y: 60, align: 'center', face: 'narrowStrong', size: 8 },
      text: String(i + 1),
    },
    {
      kind: 'text',
      ...{ x: x + 12, y: 68, align: 'center', face: 'narrow', size: 6, ink: 'quiet' },
      text: `+${weight}`,
    },
  ]
}

function jumperMarks(label: string, isSet: boolean, i: number): Mark[] {
  const x = 15 + i * 30
  return [
    ...(isSet
      ? [
          {
            kind: 'box',
            x: x - 8,
            y: 4,
            width: 16,
            height: 36,
            fill: 'shade',
            line: 'ink',
          } as const,
        ]
      : []),
    { kind: 'circle', x, y: 12, radius: 4, line: 'ink', fill: isSet ? 'ink' : 'paper' },
    { kind: 'circle', x, y: 32, radius: 4, line: 'ink', fill: isSet ? 'ink' : 'paper' },
    {
      kind: 'text',
      ...{ x, y: 54, align: 'center', size: 7, text: label },
      face: isSet ? 'strong' : 'narrow',
    },
  ]
}

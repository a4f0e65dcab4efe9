import {
  crossSections,
  wordConsumer,
  type Consumer,
  type Derived,
  type Supply,
} from '@kataxis/core'
import { suppliesOf } from '@kataxis/core'
import type { Choice } from '../../parts/choices'

export const noSupply = 'none'
export const amperes = (ma: number) => `${Number((ma / 1000).toFixed(2))} A`
export const volts = (value: number | null) => (value === null ? '–' : `${value.toFixed(1)} V`)

export const supplyChoices = (derived: Derived): readonly Choice<string>[] => [
  { value: noSupply, label: 'no supply' },
  ...suppliesOf(derived).map(({ view }) => ({
    value: view.id,
    label: view.station.name || '(no name)',
  })),
]

/** A conductor as one choice: its cross-section, and whether it is fine-wired. */
export const conductorChoices: readonly Choice<string>[] = [true, false].flatMap((flexible) =>
  crossSections.map((mm2) => ({
    value: `${mm2}/${flexible}`,
    label: `${mm2} mm²${flexible ? '' : ' solid'}`,
  })),
)
export function conductorOf(value: string): { mm2: number; flexible: boolean } {
  const [mm2, flexible] = value.split('/')
  return { mm2: Number(mm2), flexible: flexible === 'true' }
}

export const keyOfConsumer = ({ at }: Consumer) => `${at.node}${at.second ? '/second' : ''}`
export const consumerWords = (one: Consumer) =>
  `${one.view.station.name || '(no name)'}, ${wordConsumer(one)}`

/** How a supply is used, in words. */
export const loadWords = ({ usedMa, source }: Supply) =>
  `${amperes(usedMa)} of ${amperes(source.currentMa)}`

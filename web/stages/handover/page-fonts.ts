import type { Face, Measure } from '@kataxis/core'

/** The page's own fonts for the faces of a document. */
const fonts: Readonly<Record<Face, readonly [weight: number, family: string]>> = {
  text: [400, 'var(--sans)'],
  strong: [600, 'var(--sans)'],
  narrow: [400, 'var(--narrow)'],
  narrowStrong: [600, 'var(--narrow)'],
  mono: [400, 'var(--mono)'],
}

export const fontOf = (face: Face, size: number) => {
  const [weight, family] = fonts[face]
  return `${weight} ${size}px ${family}`
}

const measured = 100

/** Widths as the browser draws them; each character of a face once. */
export function browserMeasure(): Measure {
  const context = document.createElement('canvas').getContext('2d')!
  const style = getComputedStyle(document.documentElement)
  const known = new Map<string, number>()
  return (sign, face) => {
    const key = `${face}${sign}`
    let width = known.get(key)
    if (width === undefined) {
      const [weight, family] = fonts[face]
      const name = style.getPropertyValue(family.slice(4, -1))
      context.font = `${weight} ${measured}px ${name}`
      width = context.measureText(sign).width / measured
      known.set(key, width)
    }
    return width
  }
}

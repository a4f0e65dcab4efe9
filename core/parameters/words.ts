import type { Parameter, ScalingPart } from '../catalog/model'

/** What (value + offset) × multiplier × base / divider makes of a value: times `factor`, plus
 *  `offset` (CIP Vol. 1, ch. 7). */
export function scaledBy({
  multiplier,
  divider,
  base,
  offset,
}: Readonly<Record<ScalingPart, number>>): { factor: number; offset: number } {
  const factor = (multiplier * base) / (divider || 1)
  return { factor, offset: offset * factor }
}

/** A parameter with the scaling that the values of linked ones give it; `valueOf` knows those by
 *  key. */
export function withLinks(
  parameter: Parameter,
  valueOf: (key: string) => number | string | undefined,
): Parameter {
  const links = parameter.display?.links
  if (!links) return parameter
  const parts = { ...links.stated }
  for (const part of Object.keys(links.linked) as ScalingPart[]) {
    const value = valueOf(links.linked[part]!)
    if (typeof value === 'number') parts[part] = value
  }
  return { ...parameter, display: { ...parameter.display!, ...scaledBy(parts) } }
}

/** A value as the description words it; scaled where it says how a tool shows it. */
export function wordParameterValue(parameter: Parameter, value: number | string): string {
  return (
    parameter.texts[String(value)] ??
    `${shownValue(parameter, value)}${parameter.unit ? ` ${parameter.unit}` : ''}`
  )
}

/** A value as somebody types it: scaled where the description says how a tool shows it. */
export function shownValue(
  { display }: Pick<Parameter, 'display'>,
  value: number | string,
): string {
  if (!display || typeof value !== 'number') return String(value)
  const shown = value * display.factor + display.offset
  return display.decimals === null
    ? String(Number(shown.toPrecision(12)))
    : shown.toFixed(display.decimals)
}

/** What somebody typed as the value that is stored; the text itself where it is no number, so that
 *  it can be refused with its words. Decimal comma and hexadecimal are taken; a scaled whole number
 *  becomes the nearest one. */
export function typedValue(
  { display, kind, unit }: Pick<Parameter, 'display' | 'kind' | 'unit'>,
  text: string,
): number | string {
  if (kind === 'text' || kind === 'octets') return text
  const written = (unit && text.trim().endsWith(unit) ? text.trim().slice(0, -unit.length) : text)
    .trim()
    .replace(',', '.')
  if (!/^(0x[0-9a-f]+|[-+]?\d+(\.\d+)?(e[-+]?\d+)?)$/i.test(written)) return text.trim()
  if (!display) return Number(written)
  const stored = (Number(written) - display.offset) / display.factor
  return kind === 'float' ? stored : Math.round(stored)
}

export interface NumberLimits {
  readonly min?: number | undefined
  readonly max?: number | undefined
  readonly unit?: string | undefined
}

/** Why a typed text is not taken as a number; null where it is. A comma may stand for the point. */
export function whyNoNumber(text: string, { min, max, unit }: NumberLimits): string | null {
  const clean = text.trim().replace(',', '.')
  if (clean === '') return 'A number is needed here.'
  const value = Number(clean)
  if (!Number.isFinite(value)) return `“${text.trim().slice(0, 20)}” is no number.`
  if ((min === undefined || value >= min) && (max === undefined || value <= max)) return null
  const of = unit === undefined ? '' : ` ${unit}`
  if (min !== undefined && max !== undefined) return `It has to be ${min} to ${max}${of}.`
  return min !== undefined
    ? `It has to be ${min}${of} or more.`
    : `It has to be ${max}${of} or less.`
}

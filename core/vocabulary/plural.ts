/** How English tells one thing from many (Unicode CLDR, plural rules). */
const rules = new Intl.PluralRules('en')

/** The word for so many: `plural(1, 'module')` is `module`, of others `modules`. */
export function plural(count: number, one: string, many = `${one}s`): string {
  return rules.select(count) === 'one' ? one : many
}

/** Number and word: `1 module`, `3 modules`. */
export function numbered(count: number, one: string, many?: string): string {
  return `${count} ${plural(count, one, many)}`
}

/** A single thing in words of its own, others counted: `a module`, `3 modules`. */
export function oneOr(count: number, alone: string, many: string): string {
  return plural(count, alone, `${count} ${many}`)
}

import { parseDigits } from './digits'
import type { Problems } from '../vocabulary/problem'
import { parseValueList, type ValueRange } from '../vocabulary/value-list'
import type { XmlElement } from './xml-records'

/** Reads attributes and says what is wrong with them, with the element's line. */
export class Attributes {
  /** The same few lists stand thousands of times in a file. */
  private readonly knownLists = new Map<string, ValueRange[] | null>()

  /** `parse` reads a whole number as the format writes it. */
  constructor(
    private readonly problems: Problems,
    private readonly parse: (text: string) => number | null = parseWhole,
  ) {}

  /** A whole number, decimal or `0x…`; `null` where the attribute is missing or no number. */
  number(
    element: XmlElement | undefined,
    name: string,
    range: ValueRange = [0, 0xffffffff],
  ): number | null {
    const text = element?.attributes[name]
    if (element === undefined || text === undefined) return null
    return this.inRange(text, element, name, range)
  }

  /** The whole number that an element holds as its text; `null` where the element is missing or
   *  empty. */
  content(element: XmlElement | undefined, range: ValueRange = [0, 0xffffffff]): number | null {
    const text = element?.text.trim() ?? ''
    return element === undefined || text === '' ? null : this.inRange(text, element, null, range)
  }

  private inRange(
    text: string,
    element: XmlElement,
    attribute: string | null,
    range: ValueRange,
  ): number | null {
    const value = this.parse(text)
    if (value !== null && value >= range[0] && value <= range[1]) return value
    // Put together only where it is said; most numbers are right.
    const what = attribute === null ? element.name : `${element.name}@${attribute}`
    if (value === null)
      this.problems.error(
        'attribute.number',
        `${what} is "${text}"; a whole number is needed.`,
        element,
      )
    else
      this.problems.error(
        'attribute.range',
        `${what} is ${text}; it must lie between ${range[0]} and ${range[1]}.`,
        element,
      )
    return null
  }

  required(element: XmlElement, name: string, range?: ValueRange): number {
    if (element.attributes[name] === undefined) {
      this.problems.error(
        'attribute.missing',
        `${element.name} has no ${name}; it is needed.`,
        element,
      )
      return 0
    }
    return this.number(element, name, range) ?? 0
  }

  boolean(element: XmlElement | undefined, name: string, fallback = false): boolean {
    const text = element?.attributes[name]
    if (text === undefined || element === undefined) return fallback
    if (text === 'true' || text === '1') return true
    if (text === 'false' || text === '0') return false
    this.problems.error(
      'attribute.boolean',
      `${element.name}@${name} is "${text}"; "true" or "false" is needed.`,
      element,
    )
    return fallback
  }

  /** A value list; missing gives `null`. */
  list(element: XmlElement | undefined, name: string): ValueRange[] | null {
    const text = element?.attributes[name]
    if (text === undefined || element === undefined) return null
    let ranges = this.knownLists.get(text)
    if (ranges === undefined) this.knownLists.set(text, (ranges = parseValueList(text)))
    if (!ranges) {
      this.problems.error(
        'attribute.list',
        `${element.name}@${name} is "${text}"; a value list such as "0..7 9" is needed.`,
        element,
      )
    }
    return ranges
  }

  key(element: XmlElement): string {
    const id = element.attributes['ID']
    if (id === undefined || id === '') {
      this.problems.error('attribute.missing', `${element.name} has no ID; it is needed.`, element)
      return `line-${element.line}`
    }
    return id
  }
}

export function parseWhole(text: string): number | null {
  const plain = parseDigits(text)
  if (plain >= 0) return plain
  const trimmed = text.trim()
  if (/^-?\d+$/.test(trimmed)) return Number(trimmed)
  if (/^0[xX][0-9a-fA-F]+$/.test(trimmed)) return Number(trimmed)
  return null
}

import type { Position, Problems } from '../../problem'
import type { XmlElement } from '../xml-records'

interface Entry {
  readonly textId: string
  primary: string | null
  other: string | null
  /** Where it is named first. */
  namedAt: Position | null
}

/** Texts stand at the end of a GSDML file, so what wants one waits until all languages are read. */
export class Texts {
  private readonly entries = new Map<string, Entry>()
  // Side by side instead of one object a wish: large files have hundreds of thousands.
  private readonly targets: Record<string, string>[] = []
  private readonly properties: string[] = []
  private readonly wanted: Entry[] = []
  private inPrimary = true

  constructor(private readonly problems: Problems) {}

  /** Remembers that `target[property]` wants the text `textId` names. */
  want(target: object, property: string, textId: string | undefined, at: XmlElement): void {
    if (textId === undefined) return
    const entry = this.entry(textId)
    entry.namedAt ??= at.place
    this.targets.push(target as Record<string, string>)
    this.properties.push(property)
    this.wanted.push(entry)
  }

  enterLanguage(isPrimary: boolean): void {
    this.inPrimary = isPrimary
  }

  readText(text: XmlElement): void {
    const id = text.attributes['TextId']
    const value = text.attributes['Value']
    if (id === undefined || value === undefined) {
      this.problems.error('text.incomplete', 'A Text needs both TextId and Value.', text)
    } else if (this.inPrimary) {
      this.entry(id).primary = value
    } else {
      this.entry(id).other ??= value
    }
  }

  /** Fills in every name: primary language, else any other language, else the text's own id. */
  settle(): void {
    for (const [i, { textId, primary, other }] of this.wanted.entries()) this.targets[i]![this.properties[i]!] = primary ?? other ?? textId
    for (const { textId, primary, other, namedAt } of this.entries.values()) {
      if (primary !== null || namedAt === null) continue
      if (other !== null) {
        this.problems.warning('text.language', `Text "${textId}" is missing in the primary language; another language is shown.`, namedAt)
      } else {
        this.problems.error('reference.text', `Text "${textId}" is named here but stands in no language of the file.`, namedAt)
      }
    }
  }

  private entry(textId: string): Entry {
    let entry = this.entries.get(textId)
    if (!entry) this.entries.set(textId, (entry = { textId, primary: null, other: null, namedAt: null }))
    return entry
  }
}

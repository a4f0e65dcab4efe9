import type { Problems } from '../vocabulary/problem'
import type { SourceText } from './source-text'
import { tagPlace, type XmlElement } from './xml-records'

/** How a format writes a text: the attribute that names it, the one that holds it. */
export interface TextWriting {
  readonly id: string
  readonly value: string
}

/** Texts stand at the end of a GSDML or IODD file, so what wants one waits until all languages are
 *  read. */
export class Texts {
  private readonly chosen = new Map<string, string>()
  private readonly primary = new Map<string, string>()
  private readonly other = new Map<string, string>()
  // Side by side instead of one object a wish: large files have hundreds of thousands.
  private readonly targets: Record<string, string>[] = []
  private readonly properties: string[] = []
  private readonly wanted: string[] = []
  private readonly tagEnds: number[] = []
  private source: SourceText | null = null
  /** Languages of the file, its primary one first. */
  readonly languages: string[] = []
  private entered = this.primary

  /** Takes texts of `language`, or of the file's primary language where that is null or missing. */
  constructor(
    private readonly problems: Problems,
    private readonly language: string | null,
    private readonly writing: TextWriting,
  ) {}

  /** Remembers that `target[property]` wants the text `textId` names. */
  want(target: object, property: string, textId: string | undefined, at: XmlElement): void {
    if (textId === undefined) return
    this.targets.push(target as Record<string, string>)
    this.properties.push(property)
    this.wanted.push(textId)
    this.tagEnds.push(at.tagEnd)
    this.source = at.source
  }

  enterLanguage(tag: string | null, isPrimary: boolean): void {
    // The primary language is English where the file does not say (GSDML specification, from
    // memory).
    const language = tag ?? (isPrimary ? 'en' : '?')
    this.languages.push(language)
    this.entered = isPrimary ? this.primary : language === this.language ? this.chosen : this.other
  }

  readText(text: XmlElement): void {
    const id = text.attributes[this.writing.id]
    const value = text.attributes[this.writing.value]
    if (id === undefined || value === undefined)
      this.problems.error(
        'text.incomplete',
        `A Text needs both ${this.writing.id} and ${this.writing.value}.`,
        text,
      )
    else if (this.entered !== this.other || !this.other.has(id)) this.entered.set(id, value)
  }

  /** Fills in every name: chosen language, else the primary one, else any other language, else the
   *  text's own id. */
  settle(): void {
    const missing = new Map<string, number>()
    for (let i = 0; i < this.wanted.length; i++) {
      const textId = this.wanted[i]!
      const primary = this.primary.get(textId)
      this.targets[i]![this.properties[i]!] =
        (this.chosen.size > 0 ? this.chosen.get(textId) : undefined) ??
        primary ??
        this.other.get(textId) ??
        textId
      if (primary === undefined && !missing.has(textId)) missing.set(textId, this.tagEnds[i]!)
    }
    for (const [textId, tagEnd] of missing) this.report(textId, tagPlace(this.source!, tagEnd))
  }

  private report(textId: string, at: ReturnType<typeof tagPlace>): void {
    if (this.chosen.has(textId) || this.other.has(textId))
      this.problems.warning(
        'text.language',
        `Text "${textId}" is missing in the primary language; another language is shown.`,
        at,
      )
    else
      this.problems.error(
        'reference.text',
        `Text "${textId}" is named here but stands in no language of the file.`,
        at,
      )
  }
}

import type { Problems, Position } from '../../problem'
import type { XmlElement } from '../xml-records'

interface Waiting {
  readonly target: Record<string, unknown>
  readonly property: string
  readonly textId: string
  readonly at: Position
}

/** Texts stand at the end of a GSDML file, so names wait until all languages are read. */
export class Texts {
  private readonly primary = new Map<string, string>()
  private readonly others = new Map<string, string>()
  private readonly waiting: Waiting[] = []

  constructor(private readonly problems: Problems) {}

  /** Remembers that `target[property]` wants the text `textId` names. */
  want(target: object, property: string, textId: string | undefined, at: Position): void {
    if (textId !== undefined) this.waiting.push({ target: target as Record<string, unknown>, property, textId, at })
  }

  readLanguage(language: XmlElement): void {
    const isPrimary = language.name === 'PrimaryLanguage'
    for (const text of language.children) {
      const id = text.attributes['TextId']
      const value = text.attributes['Value']
      if (id === undefined || value === undefined) {
        this.problems.error('text.incomplete', 'A Text needs both TextId and Value.', text)
      } else if (isPrimary) {
        this.primary.set(id, value)
      } else if (!this.others.has(id)) {
        this.others.set(id, value)
      }
    }
  }

  /** Fills in every name: primary language, else any other language, else the text's own id. */
  settle(): void {
    for (const { target, property, textId, at } of this.waiting) {
      const text = this.primary.get(textId)
      const other = text === undefined ? this.others.get(textId) : undefined
      target[property] = text ?? other ?? textId
      if (text !== undefined) continue
      if (other !== undefined) {
        this.problems.warning('text.language', `Text "${textId}" is missing in the primary language; another language is shown.`, at)
      } else {
        this.problems.error('reference.text', `Text "${textId}" is named here but stands in no language of the file.`, at)
      }
    }
  }
}

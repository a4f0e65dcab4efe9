import type { Position, Problems } from '../../problem'
import type { XmlElement } from '../xml-records'

/** Texts stand at the end of a GSDML file, so what wants one holds its id until all languages are read. */
export class Texts {
  private readonly primary = new Map<string, string>()
  private readonly others = new Map<string, string>()
  private readonly targets: Record<string, unknown>[] = []
  private readonly properties: string[] = []
  /** Where each text is named first. Positions only: a kept element would keep its whole tree. */
  private readonly firstNamed = new Map<string, Position>()
  private inPrimary = true

  constructor(private readonly problems: Problems) {}

  /** Remembers that `target[property]` wants the text `textId` names. */
  want(target: object, property: string, textId: string | undefined, at: Position): void {
    if (textId === undefined) return
    const holder = target as Record<string, unknown>
    holder[property] = textId
    this.targets.push(holder)
    this.properties.push(property)
    if (!this.firstNamed.has(textId)) this.firstNamed.set(textId, { line: at.line, column: at.column })
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
      this.primary.set(id, value)
    } else if (!this.others.has(id)) {
      this.others.set(id, value)
    }
  }

  /** Fills in every name: primary language, else any other language, else the text's own id. */
  settle(): void {
    for (const [i, target] of this.targets.entries()) {
      const property = this.properties[i]!
      const textId = target[property] as string
      target[property] = this.primary.get(textId) ?? this.others.get(textId) ?? textId
    }
    for (const [textId, at] of this.firstNamed) {
      if (this.primary.has(textId)) continue
      if (this.others.has(textId)) {
        this.problems.warning('text.language', `Text "${textId}" is missing in the primary language; another language is shown.`, at)
      } else {
        this.problems.error('reference.text', `Text "${textId}" is named here but stands in no language of the file.`, at)
      }
    }
  }
}

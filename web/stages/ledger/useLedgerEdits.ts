import { newId, tagIdentity, type CommandOf } from '@kataxis/core'
import { useProject } from '../../stores/project'
import { isEditable, type LedgerRow } from './rows'

export interface CellEdit {
  readonly row: LedgerRow
  readonly column: string
  readonly text: string
}

/** Turns edited cells into one command. A tag that belongs to a signal without a channel, typed on a free channel, puts
 *  that signal there instead of making a second one. */
export function useLedgerEdits() {
  const project = useProject()

  return (cells: readonly CellEdit[]): boolean => {
    const byRow = new Map<string, CommandOf<'editSignals'>['edits'][number]>()
    const waiting = new Map(Object.values(project.plan?.unplaced ?? {}).map((signal) => [tagIdentity(signal.tag), signal]))
    for (const { row, column, text } of cells) {
      if (!isEditable(column) || row[column] === text) continue
      let edit = byRow.get(row.key)
      if (!edit) {
        const adopted = column === 'tag' && row.signalId === null ? waiting.get(tagIdentity(text.trim())) : undefined
        waiting.delete(tagIdentity(text.trim()))
        edit = row.signalId !== null ? { id: row.signalId } : { id: adopted?.id ?? newId(), place: row.place }
        byRow.set(row.key, edit)
      }
      edit[column] = column === 'tag' ? text.trim() : text
    }
    if (byRow.size === 0) return true
    return project.run({ type: 'editSignals', edits: [...byRow.values()] })
  }
}

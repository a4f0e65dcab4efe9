import {
  editFor,
  electricalOf,
  factColumns,
  newId,
  settingsOf,
  tagIdentity,
  tooLong,
  type CommandOf,
  type ParameterEdit,
  type SingleCommand,
} from '@kataxis/core'
import { useProject } from '../../stores/project'
import { isEditable, isFact, type LedgerRow } from './rows'

export interface CellEdit {
  readonly row: LedgerRow
  readonly column: string
  readonly text: string
}

/** Turns edited cells into one command. A tag that belongs to a signal without a channel, typed on
 *  a free channel, puts that signal there instead of making a second one. */
export function useLedgerEdits() {
  const project = useProject()

  return (cells: readonly CellEdit[]): boolean => {
    const refused: string[] = []
    const ranges: ParameterEdit[] = []
    const others = cells.flatMap((cell): CellEdit[] => {
      if (cell.column !== 'range') return [cell]
      if (cell.row.range === cell.text) return []
      const edit = rangeEdit(cell)
      if (typeof edit === 'string') refused.push(edit)
      else if ('parameter' in edit) ranges.push(edit)
      else return [edit]
      return []
    })
    const byRow = new Map<string, CommandOf<'editSignals'>['edits'][number]>()
    const waiting = new Map(
      Object.values(project.plan?.unplaced ?? {}).map((signal) => [
        tagIdentity(signal.tag),
        signal,
      ]),
    )
    for (const { row, column, text } of others) {
      if (!isEditable(column) || column === 'range' || (row[column] ?? '') === text) continue
      // Only a comment has lines; elsewhere a line break is a blank.
      const clean = column === 'comment' ? text : text.replace(/\s+/g, ' ').trim()
      const facts = isFact(column) ? factColumns[column].read(clean) : tooLong(column, clean)
      if (typeof facts === 'string') {
        refused.push(`${row.tag || row.channel}: ${facts}.`)
        continue
      }
      let edit = byRow.get(row.key)
      if (!edit) {
        const adopted =
          column === 'tag' && row.signalId === null ? waiting.get(tagIdentity(clean)) : undefined
        waiting.delete(tagIdentity(clean))
        edit =
          row.signalId !== null
            ? { id: row.signalId }
            : { id: adopted?.id ?? newId(), place: row.place }
        byRow.set(row.key, edit)
      }
      if (facts) edit.facts = { ...edit.facts, ...facts }
      else edit[column as 'tag' | 'comment' | 'terminal'] = clean
    }
    if (refused.length > 0)
      project.tell(
        refused.length === 1
          ? refused[0]!
          : `${refused.length} cells are not taken. ${refused.slice(0, 3).join(' ')}${refused.length > 3 ? ' …' : ''}`,
      )
    const commands: SingleCommand[] = [
      ...(byRow.size > 0 ? [{ type: 'editSignals' as const, edits: [...byRow.values()] }] : []),
      ...(ranges.length > 0 ? [{ type: 'setParameters' as const, edits: ranges }] : []),
    ]
    const [only] = commands
    if (!only) return refused.length === 0
    return project.run(
      commands.length === 1
        ? only
        : { type: 'batch', label: `Edit ${cells.length} cells of the Ledger`, commands },
    )
  }

  /** A range belongs to the channel: it is set in its module's parameters, or entered with the
   *  signal where the description says none; or why it cannot. */
  function rangeEdit({ row, text }: CellEdit): ParameterEdit | CellEdit | string {
    const { listed } = row
    if (!listed) return 'This signal has no channel yet, so it has no range.'
    const setting = settingsOf(
      project.catalog,
      listed.view,
      listed.module,
      listed.channel,
      project.plan!.project.meanings,
    ).get('range')
    if (setting) return editFor(listed.module.id, setting, text)
    const what = `${listed.view.station.name}, ${listed.channel.name}`
    if (listed.channel.kind !== 'analog')
      return `${what}: a channel of the kind ${row.kind} has no range.`
    const { range: fixed } = electricalOf(listed.module.described)
    return fixed === undefined
      ? { row, column: 'channelRange', text }
      : `${what}: its range ${fixed} is fixed, as its sheet says.`
  }
}

import { copyModules, oneOr, parseClip, planPaste } from '@kataxis/core'
import { useProject } from '../../stores/project'

/** Modules over the system's clipboard, so that they travel to other windows and projects too. */
export function useBoardClipboard() {
  const project = useProject()

  function copy(event: ClipboardEvent, moduleIds: readonly string[]): boolean {
    const clip = copyModules(project.plan!, project.derived!.catalog, new Set(moduleIds))
    if (!clip) return false
    event.clipboardData?.setData('text/plain', JSON.stringify(clip))
    event.preventDefault()
    return true
  }

  function cut(event: ClipboardEvent, moduleIds: readonly string[]): void {
    const { catalog, plan } = project.derived!
    if (!copy(event, moduleIds)) return
    // Modules that the head fixes neither travel nor go, so their signals stay as they are.
    const ids = moduleIds.filter((id) => copyModules(plan, catalog, new Set([id])) !== null)
    // The tags go with the clip: left behind they would stand twice when it is pasted.
    const taken = new Set(ids)
    const signals = Object.values(plan.stations)
      .flatMap((group) => Object.values(group.signals))
      .filter(({ place }) => place && taken.has(place.moduleId))
    project.run({
      type: 'batch',
      label: `Cut ${oneOr(ids.length, 'a module', 'modules')}`,
      commands: [
        { type: 'removeModules', ids },
        ...(signals.length > 0
          ? [{ type: 'removeSignals' as const, ids: signals.map(({ id }) => id) }]
          : []),
      ],
    })
  }

  /** Pastes what fits from that slot on, and tells what does not. Gives the modules that were
   *  placed. */
  function paste(event: ClipboardEvent, stationId: string, slot: number): readonly string[] {
    const clip = parseClip(event.clipboardData?.getData('text/plain') ?? '')
    if (!clip) {
      project.tell('The clipboard holds no modules; copy some on the Board first.')
      return []
    }
    event.preventDefault()
    const { commands, placed, left } = planPaste(
      project.plan!,
      project.derived!.catalog,
      clip,
      stationId,
      slot,
    )
    const done =
      commands.length > 0 &&
      project.run({
        type: 'batch',
        label: `Paste ${oneOr(placed.length, 'a module', 'modules')}`,
        commands: [...commands],
      })
    if (left.length > 0)
      project.tell(
        `Pasted ${placed.length} of ${clip.modules.length}. Left out: ${left
          .slice(0, 3)
          .map(({ words, why }) => `${words} (${why.replace(/\.$/, '')})`)
          .join('; ')}${left.length > 3 ? ` and ${left.length - 3} more` : ''}.`,
      )
    return done ? placed.map(({ id }) => id) : []
  }

  return { copy, cut, paste }
}

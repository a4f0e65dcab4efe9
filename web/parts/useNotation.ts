import { notationOf, type NotationName, type StationRow } from '@kataxis/core'
import { usePreferences } from '../stores/preferences'
import { useProject } from '../stores/project'

/** How addresses of a station are written now: as somebody asks for a moment, else as its
 *  controller does. */
export function useNotation() {
  const project = useProject()
  const preferences = usePreferences()
  return (station: Pick<StationRow, 'networkId'>): NotationName =>
    preferences.notation || notationOf(project.plan!, station)
}

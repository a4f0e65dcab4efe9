import {
  freeControllerIp,
  kindNamed,
  networkKindNames,
  newId,
  type NetworkKindName,
} from '@kataxis/core'
import type { DropdownOption } from 'naive-ui'
import { useFocus } from '../../stores/focus'
import { useProject } from '../../stores/project'

export const kindOptions: DropdownOption[] = networkKindNames.map((key) => ({
  key,
  label: kindNamed(key).name,
}))

/** Controllers and networks that somebody adds; `goOn` is called with each new network as soon as
 *  its sheet is open. */
export function useNewNetworks(goOn: (networkId: string) => void) {
  const project = useProject()
  const { setFocus } = useFocus()
  const newNetwork = (id: string, controllerId: string, kind: NetworkKindName, count: number) => ({
    type: 'addNetwork' as const,
    id,
    controllerId,
    name: `${kindNamed(kind).newName ?? kindNamed(kind).name} ${count}`,
    kind,
    settings: kindNamed(kind).hasIp
      ? { controllerIp: freeControllerIp(project.derived!.plan) }
      : {},
  })
  function addController(kind: NetworkKindName): void {
    const [controllerId, networkId] = [newId(), newId()]
    const count = project.derived!.controllers.length + 1
    const done = project.run({
      type: 'batch',
      label: 'Add a controller with a network',
      commands: [
        {
          type: 'addController',
          id: controllerId,
          name: `K${count}`,
          inputBytes: 4096,
          outputBytes: 4096,
          aligned: true,
        },
        newNetwork(
          networkId,
          controllerId,
          kind,
          Object.keys(project.derived!.plan.networks).length + 1,
        ),
      ],
    })
    if (done) void setFocus({ kind: 'controller', id: controllerId }).then(() => goOn(networkId))
  }
  function addNetwork(controllerId: string, kind: NetworkKindName): void {
    const id = newId()
    if (
      project.run(
        newNetwork(id, controllerId, kind, Object.keys(project.derived!.plan.networks).length + 1),
      )
    )
      void setFocus({ kind: 'network', id }).then(() => goOn(id))
  }
  return { addController, addNetwork }
}

import { formatAddress } from '../../addressing/notations'
import { channelAddress, type Derived, type DerivedStation } from '../../derive/derive'
import type { ControllerRow, Id } from '../../plan/model'
import { kindOf } from '../../protocols/registry'
import { tagFault } from '../../tags/identifier'
import { channelsOfStation } from '../io-list'
import { withOwnNames, type NamesOnce } from './names'
import { scaledOf, scalingBlocks, type Scaled, type ScalingBlocks } from './scaling'
import { typeOfChannel, type VariableType } from './types'

/** A signal as a program knows it. */
export interface Variable {
  readonly name: string
  readonly type: VariableType
  /** By bytes, as IEC 61131-3 writes it; null where it has none yet. */
  readonly address: string | null
  readonly comment: string
}

/** A structure type: all signals of a station. */
export interface Structure {
  readonly name: string
  readonly comment: string
  readonly members: readonly Variable[]
}

/** What one controller's program has to know. */
export interface ControllerVariables {
  readonly controller: ControllerRow
  /** A legal name of its own. */
  readonly name: string
  readonly structures: readonly Structure[]
  readonly variables: readonly Variable[]
  readonly scaled: readonly Scaled[]
  /** Name of the program that scales. */
  readonly scalingProgram: string
}

export interface ProgramVariables {
  /** Name of the configuration that the controllers are resources of. */
  readonly plant: string
  readonly controllers: readonly ControllerVariables[]
  /** What the scaling programs call. */
  readonly blocks: ScalingBlocks
  /** Tags that are no identifiers, and why. */
  readonly leftOut: readonly { readonly tag: string; readonly why: string }[]
}

/** Every named signal with a channel as programs of IEC 61131-3 know it, controller by controller;
 *  of one controller alone where one is chosen. */
export function programVariables(derived: Derived, controllerId?: Id): ProgramVariables {
  return withOwnNames(
    derived.plan.project,
    (once) => variablesWith(once, derived, controllerId),
    function* ({ controllers }) {
      for (const { variables } of controllers) for (const { name } of variables) yield name
    },
  )
}

function variablesWith(
  once: NamesOnce,
  derived: Derived,
  controllerId: Id | undefined,
): ProgramVariables {
  const { project } = derived.plan
  const leftOut: { tag: string; why: string }[] = []
  const plant = once('Plant', 'Plant')
  const blocks = scalingBlocks(once)
  const controllers = derived.controllers
    .filter(({ controller }) => controllerId === undefined || controller.id === controllerId)
    .map(({ controller, networks }): ControllerVariables => {
      const structures: Structure[] = []
      const variables: Variable[] = []
      const scaled: Scaled[] = []
      for (const view of networks.flatMap(({ stations }) => stations)) {
        if (view.named === 0) continue
        const members: Variable[] = []
        for (const { module, channel, signal } of channelsOfStation(view)) {
          if (!signal || signal.tag === '') continue
          const why = tagFault(signal.tag, project)
          if (why !== null) {
            leftOut.push({ tag: signal.tag, why })
            continue
          }
          const at = channelAddress(module, channel)
          const variable: Variable = {
            name: signal.tag,
            type: typeOfChannel(channel),
            address: at && formatAddress(at, 'iec'),
            comment: signal.comment,
          }
          members.push(variable)
          const value = scaledOf(
            derived,
            view,
            module,
            channel,
            signal,
            variable.type,
            blocks,
            once,
          )
          if (value) scaled.push(value)
        }
        if (members.length === 0) continue
        structures.push({
          name: once(`T_${view.station.name}`, 'T_station'),
          comment: wordsOfStation(view, derived),
          members,
        })
        for (const member of members) variables.push(member)
      }
      return {
        controller,
        name: once(controller.name, 'Controller'),
        structures,
        variables,
        scaled,
        scalingProgram: once(`Scaling_${controller.name}`, 'Scaling'),
      }
    })
  return { plant, controllers, blocks, leftOut }
}

function wordsOfStation({ station }: DerivedStation, { plan }: Derived): string {
  const network = plan.networks[station.networkId]
  return [station.name, network && kindOf(network).name, station.comment].filter(Boolean).join(', ')
}

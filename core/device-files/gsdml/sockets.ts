import type { Problems } from '../../vocabulary/problem'
import { inRanges, type ValueRange } from '../../vocabulary/value-list'
import { listed, type XmlElement } from '../xml-records'
import type { Reading, Reference, Socket } from './reading'

/** A reference to what may be plugged, with where it may. */
export function readReference(
  reading: Reading,
  element: XmlElement,
  targetAttribute: string,
  where: 'Slots' | 'Subslots',
): Reference {
  const { attributes, placings } = reading
  const [allowed, used, fixed] = [`AllowedIn${where}`, `UsedIn${where}`, `FixedIn${where}`]
  const written = [allowed, used, fixed].map((name) => element.attributes[name]).join('|')
  let placing = placings.get(written)
  if (!placing) {
    placing = {
      allowed: attributes.list(element, allowed),
      used: attributes.list(element, used),
      fixed: attributes.list(element, fixed),
    }
    placings.set(written, placing)
  }
  return { target: element.attributes[targetAttribute] ?? '', placing, at: element.place }
}

/** Subslots of a head or module that submodules can be plugged into. */
export function addSubslots(reading: Reading, owner: Socket['owner'], element: XmlElement): void {
  const { attributes, sockets } = reading
  const references = listed(element, 'UseableSubmodules', 'SubmoduleItemRef').map((reference) =>
    readReference(reading, reference, 'SubmoduleItemTarget', 'Subslots'),
  )
  if (references.length === 0) return
  const physical = attributes.list(element, 'PhysicalSubslots')
  const named = [...new Set(references.map(({ placing }) => placing))].flatMap(
    ({ allowed, fixed, used }) => [...(allowed ?? []), ...(fixed ?? []), ...(used ?? [])],
  )
  sockets.push({
    owner,
    numbers: [...new Set(reading.numbersOf(physical ?? named, element))],
    kind: 'subslot',
    references,
  })
}

/** Sets for every slot what may, must and does stand there at the start. `Fixed` alone means: only
 *  there. Slots that take the same modules share one list. */
export function fillSocket(socket: Socket, known: ReadonlySet<string>, problems: Problems): void {
  const references = socket.references.filter(({ target, at }) => {
    if (!known.has(target))
      problems.error(
        `reference.${socket.kind === 'slot' ? 'module' : 'submodule'}`,
        `"${target}" is named here but does not stand in the file.`,
        at,
      )
    return known.has(target)
  })
  const placings = [...new Set(references.map(({ placing }) => placing))]
  const fixedOnes = references.filter(({ placing }) => placing.fixed)
  const usedOnes = references.filter(({ placing }) => placing.used)
  const lists = new Map<string, string[]>()
  const contentOf = (slot: number) => {
    const names = (ranges: ValueRange[] | null) => ranges !== null && inRanges(ranges, slot)
    const fitting = placings.map(
      ({ allowed, used, fixed }) =>
        (!allowed && !used && !fixed) || names(allowed) || names(used) || names(fixed),
    )
    const key = fitting.map(Number).join('')
    let allowed = lists.get(key)
    if (!allowed) {
      const here = new Set(placings.filter((_, i) => fitting[i]))
      lists.set(
        key,
        (allowed = references
          .filter(({ placing }) => here.has(placing))
          .map(({ target }) => target)),
      )
    }
    return {
      fixed: fixedOnes.findLast(({ placing }) => names(placing.fixed))?.target ?? null,
      default: usedOnes.findLast(({ placing }) => names(placing.used))?.target ?? null,
      allowed,
    }
  }
  // Between two numbers at which some range begins or ends all slots are alike.
  const bounds = new Set(
    placings.flatMap(({ allowed, used, fixed }) =>
      [allowed, used, fixed].flatMap((ranges) =>
        (ranges ?? []).flatMap(([from, to]) => [from, to + 1]),
      ),
    ),
  )
  let content: ReturnType<typeof contentOf> | null = null
  let next = -1
  const entries = [...socket.numbers]
    .sort((a, b) => a - b)
    .map((slot) => {
      if (!content || slot !== next || bounds.has(slot)) content = contentOf(slot)
      next = slot + 1
      return { slot, ...content }
    })
  if (socket.kind === 'slot') socket.owner.slots = entries
  else socket.owner.subslots = entries.map(({ slot: subslot, ...entry }) => ({ subslot, ...entry }))
}

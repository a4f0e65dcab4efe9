import type { Id, SignalRow } from './model'

type Signals = Readonly<Record<Id, SignalRow>>
const known = new WeakMap<Signals, readonly SignalRow[]>()

/** Signals of a station that name a partner, looked for once for each state of them, since most
 *  plans have a hundred thousand that name none. */
export function signalsWithPartner(signals: Signals): readonly SignalRow[] {
  let found = known.get(signals)
  if (!found) known.set(signals, (found = namePartner(signals)))
  return found
}

/** The same without remembering, for rows that are just being changed. */
export function namePartner(signals: Signals): SignalRow[] {
  return Object.values(signals).filter(({ facts }) => facts.partner !== undefined)
}

import type { Derived } from '../../derive/derive'
import type { Origin } from '../origin'
import { safetyItems } from './items'

/** All that is fail-safe in a plan as JSON, with its signature and who released it. */
export function writeSafetyData(derived: Derived, origin: Origin): string {
  const release = derived.plan.project.safetyRelease
  const { modules, devices } = safetyItems(derived)
  const file = {
    plan: origin.project,
    revision: origin.revision,
    at: origin.at,
    draft: origin.blockers > 0,
    signature: origin.safetySignature,
    release: release && { ...release, isStale: release.signature !== origin.safetySignature },
    modules,
    devices,
  }
  return `${JSON.stringify(file, null, 2)}\n`
}

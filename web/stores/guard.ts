import {
  failSafeParts,
  safetyConfigurationOf,
  type DerivedModule,
  type DerivedStation,
} from '@kataxis/core'
import { useProject } from './project'
import { useSession } from './session'

/** Why somebody may not change something, as the server would say; null where he may. */
export function useGuard() {
  const project = useProject()
  const session = useSession()
  const whyNotPlan = () => session.whyNot('plan')
  /** Of a head or module: its place, addresses, parameters and the tags on its channels. */
  const whyNotModule = (view: DerivedStation, module: DerivedModule) =>
    whyNotPlan() ??
    (failSafeParts(view, project.catalog).some((part) => part.module.id === module.id)
      ? whyNotSafety()
      : null)
  /** Of a station: its name, address and number, which fail-safe modules are found by. */
  const whyNotIdentity = (view: DerivedStation) =>
    whyNotPlan() ??
    (failSafeParts(view, project.catalog).length > 0 || safetyConfigurationOf(view.station)
      ? whyNotSafety()
      : null)
  const whyNotSafety = () => session.whyNot('safety')
  return { whyNotPlan, whyNotModule, whyNotIdentity, whyNotSafety }
}

import type { Endpoint } from '../http/endpoint'
import type { PlanServices, Services } from '../services'
import { accountEndpoints } from './accounts'
import { fileEndpoints } from './files'
import { jobEndpoints, jobFileEndpoints } from './jobs'
import { liveEndpoints } from './live'
import { projectListEndpoints } from './project-list'
import { projectEndpoints } from './projects'
import { rehearsalEndpoints } from './rehearsal'

/** Every way in. */
export function allEndpoints(services: Services): Endpoint[] {
  return [
    ...accountEndpoints(services),
    ...liveEndpoints(services),
    ...jobEndpoints(services),
    ...engineEndpoints(services),
  ]
}

/** Those that a thread may be asked for. */
export function engineEndpoints(services: PlanServices): Endpoint[] {
  return [
    ...projectListEndpoints(services),
    ...projectEndpoints(services),
    ...fileEndpoints(services),
    ...jobFileEndpoints(services),
    ...rehearsalEndpoints(services),
  ]
}

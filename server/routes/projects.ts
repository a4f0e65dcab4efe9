import { exportOptions, may, signedBy, wordIssue, type ExportOptions } from '@kataxis/core'
import { Download, endpoint, JsonText, PackedJson, type Endpoint } from '../http/endpoint'
import type { PlanServices } from '../services'
import { refusal } from '../services/refusals'
import { written, type Told } from '../services/told'
import type { UserRow } from '../services/users'

/** What is done is signed by who is signed in. */
const signed = <T extends object>(sent: T, { id: userId, fullName, role }: UserRow) => ({
  ...sent,
  userId,
  author: fullName,
  mayChangeSafety: may(role, 'safety'),
})
/** Words of a filter that are looked for. */
const mostWords = 8
/** Options as they stand in a link. */
function optionsOf(text: string | undefined): Partial<ExportOptions> {
  if (text === undefined) return {}
  let json: unknown
  try {
    json = JSON.parse(text)
  } catch {
    throw refusal('export.impossible', 'options: this is not JSON.')
  }
  const read = exportOptions.partial().safeParse(json)
  if (!read.success) throw refusal('export.impossible', read.error.issues.map(wordIssue).join(' '))
  return read.data as Partial<ExportOptions>
}
const told = async (what: Promise<Told>) => new JsonText(written(await what))
export function projectEndpoints({
  plans,
  changing,
  history,
  versions,
  handover,
}: PlanServices): Endpoint[] {
  return [
    endpoint(
      'plan',
      async ({ params }) => new PackedJson(await plans.asJson(params.project, 'rows')),
    ),
    endpoint(
      'packedPlan',
      async ({ params }) => new PackedJson(await plans.asJson(params.project, 'packed')),
    ),
    endpoint('command', ({ params, user, body: { command: wanted, ...sent } }) =>
      told(changing.execute(params.project, signed(sent, user), signedBy(wanted, user.fullName))),
    ),
    endpoint('undo', ({ params, user, body }) =>
      told(history.undo(params.project, signed(body, user))),
    ),
    endpoint('redo', ({ params, user, body }) =>
      told(history.redo(params.project, signed(body, user))),
    ),
    endpoint('changes', ({ params, query }) =>
      told(history.changesSince(params.project, Number(query.since))),
    ),
    endpoint('history', async ({ params, query }) => ({
      entries: await history.entries(params.project, {
        before: query.before === undefined ? null : Number(query.before),
        words: (query.words ?? '').split(/\s+/).filter(Boolean).slice(0, mostWords),
      }),
    })),
    endpoint('backTo', ({ params, user, body: { revision, ...rest } }) =>
      told(history.backTo(params.project, signed(rest, user), revision)),
    ),
    endpoint('repair', ({ params, user, body }) =>
      told(history.repair(params.project, signed(body, user))),
    ),
    endpoint('difference', async ({ params, query }) => ({
      changes: await history.difference(params.project, Number(query.from), Number(query.to)),
    })),
    endpoint('versions', async ({ params }) => ({
      versions: await versions.list(params.project),
    })),
    endpoint('nameVersion', async ({ params, user, body }) => {
      await versions.name(params.project, user.fullName, body.name)
      return {}
    }),
    endpoint('forgetVersion', async ({ params }) => {
      await versions.forget(params.project, params.name)
      return {}
    }),
    endpoint('export', async ({ params, query }) => {
      const { bytes, mediaType, fileName } = await handover.export(
        params.project,
        params.format,
        optionsOf(query.options),
      )
      return new Download(bytes, mediaType, fileName)
    }),
    endpoint('releases', async ({ params }) => ({
      releases: await handover.releases(params.project),
    })),
    endpoint('releasePackage', async ({ params }) => {
      const { bytes, mediaType, fileName } = await handover.releasePackage(
        params.project,
        params.name,
      )
      return new Download(bytes, mediaType, fileName)
    }),
  ]
}

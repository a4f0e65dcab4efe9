import { z } from 'zod'
import { sheetFile } from '@kataxis/core'
import { Download, endpoint, JsonText, type Endpoint } from '../http/endpoint'
import { Refused } from '../services/refused'
import type { PlanServices } from '../services'

export function fileEndpoints({ shelf, projects }: PlanServices): Endpoint[] {
  return [
    endpoint('files', async () => ({ files: await shelf.list() })),
    endpoint('searchShelf', ({ query }) => shelf.search(query.q)),
    endpoint('addFile', async ({ query, raw }) => {
      const arrivals = await shelf.add(query.name, raw)
      const [only] = arrivals
      if (arrivals.length === 1 && only?.state === 'refused')
        throw new Refused(
          'impossible',
          only.problems.at(-1)?.code ?? 'file.unreadable',
          only.sentence,
          {
            problems: only.problems,
          },
        )
      return { arrivals }
    }),
    endpoint(
      'catalog',
      async ({ params, query }) =>
        new JsonText(
          await (query.language === undefined
            ? shelf.packed(params.sha256)
            : shelf.inLanguage(params.sha256, query.language)),
        ),
    ),
    endpoint('fileLines', async ({ params, query }) => ({
      lines: await shelf.lines(params.sha256, query.from, Math.min(query.to, query.from + 500)),
    })),
    endpoint('fileUses', async ({ params, user }) => {
      const uses = await shelf.uses(params.sha256)
      const mine = await projects.entered(
        user,
        uses.map(({ projectId }) => projectId),
      )
      return { uses: uses.filter(({ projectId }) => mine.has(projectId)) }
    }),
    endpoint('compareFiles', async ({ params, query }) => ({
      differences: await shelf.compare(query.older, params.sha256),
    })),
    endpoint('sheetSchema', () => z.toJSONSchema(sheetFile, { io: 'input' })),
    endpoint('rawFile', async ({ params }) => {
      const { name, content } = await shelf.content(params.sha256)
      return new Download(content, 'application/octet-stream', name)
    }),
    endpoint('removeFile', async ({ params }) => {
      await shelf.remove(params.sha256)
      return {}
    }),
  ]
}

import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileEndings, newPlan, runCommandScript } from '@kataxis/core'
import { largePlan, largePlanFile } from '../../demo/large-plan'
import { largeEsi, largeEsiName } from '../../demo/large-esi'
import type { Database } from '../db/connect'
import { projectRoot } from '../paths'
import { findProject } from '../repositories/plans'
import type { Plans } from './plans'
import type { Shelf } from './shelf'

const folder = join(projectRoot, 'demo')
export const demoProject = { id: 'skarvholm', name: 'Skarvholm Waterworks' }

/** Puts the invented description files on the Shelf and the demo project beside it, once; later
 *  starts leave both alone. */
export async function loadDemo(db: Database, plans: Plans, shelf: Shelf): Promise<void> {
  if (await findProject(db, demoProject.id)) return
  const files = []
  for (const { name, bytes } of demoFiles()) {
    const [arrival] = await shelf.add(name, bytes)
    if (!arrival?.sha256) throw new Error(`${name}: ${arrival?.sentence}`)
    files.push({ name, sha256: arrival.sha256 })
  }
  const catalog = await plans.catalogs.load(
    db,
    files.map(({ sha256 }) => sha256),
  )
  const script = readFileSync(join(folder, 'skarvholm.ndjson'), 'utf8')
  const result = runCommandScript(newPlan(demoProject.id, demoProject.name), catalog, files, script)
  if ('fault' in result)
    throw new Error(`demo/skarvholm.ndjson, line ${result.line}: ${result.fault}`)
  await plans.import(result.plan, 1)
}

/** A plan of 500 stations and 128,000 channels beside it, to see how the program behaves with
 *  much. */
export async function loadLargeDemo(db: Database, plans: Plans, shelf: Shelf): Promise<void> {
  if (await findProject(db, 'large')) return
  const [arrival] = await shelf.add(largePlanFile.name, largePlanFile.bytes)
  if (!arrival?.sha256) throw new Error(`${largePlanFile.name}: ${arrival?.sentence}`)
  await plans.import(largePlan(500, arrival.sha256).plan, 1)
}

/** The committed files, and one of more than 5 MB that is made here. */
function* demoFiles(): Generator<{ name: string; bytes: Uint8Array }> {
  for (const place of [folder, join(folder, 'shelf')]) {
    for (const name of readdirSync(place).sort()) {
      if (fileEndings.some((ending) => name.endsWith(ending)))
        yield { name, bytes: readFileSync(join(place, name)) }
    }
  }
  yield { name: largeEsiName, bytes: new TextEncoder().encode(largeEsi()) }
}

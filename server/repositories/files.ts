import { and, asc, eq, exists, inArray, lt, or, sql, type Column } from 'drizzle-orm'
import { unpackFile, type DeviceFile, type FileSummary, type ShelfItem } from '@kataxis/core'
import type { Connection, Database } from '../db/connect'
import { descriptionFiles, modules, projects, shelfItems, stations } from '../db/schema'

export interface NewFile {
  readonly sha256: string
  readonly name: string
  readonly content: Uint8Array
  readonly summary: FileSummary
  /** JSON in UTF-8 of the packed catalog and of its items, as the reader made them. */
  readonly catalog: Uint8Array
  readonly items: Uint8Array
  readonly reader: number
}

export async function listFiles(db: Connection) {
  return db
    .select({
      sha256: descriptionFiles.sha256,
      name: descriptionFiles.name,
      bytes: descriptionFiles.bytes,
      addedAt: descriptionFiles.addedAt,
      summary: descriptionFiles.summary,
    })
    .from(descriptionFiles)
    .orderBy(asc(descriptionFiles.name))
}

export async function hasFile(db: Connection, sha256: string): Promise<boolean> {
  const found = await db
    .select({ sha256: descriptionFiles.sha256 })
    .from(descriptionFiles)
    .where(eq(descriptionFiles.sha256, sha256))
  return found.length > 0
}

/** False where the same bytes already stand on the Shelf. */
export async function insertFile(db: Database, file: NewFile): Promise<boolean> {
  return db.transaction(async (transaction) => {
    const { sha256, name, content, summary, catalog, reader } = file
    const inserted = await transaction
      .insert(descriptionFiles)
      .values({
        sha256,
        name,
        bytes: content.length,
        content,
        summary,
        catalog: asJson(catalog),
        reader,
      })
      .onConflictDoNothing()
      .returning({ sha256: descriptionFiles.sha256 })
    if (inserted.length > 0) await insertItems(transaction, file)
    return inserted.length > 0
  })
}

/** Replaces what an older reader made of the same bytes. */
export async function replaceCatalog(db: Database, file: NewFile): Promise<void> {
  await db.transaction(async (transaction) => {
    const { sha256, summary, catalog, reader } = file
    await transaction
      .update(descriptionFiles)
      .set({ summary, catalog: asJson(catalog), reader })
      .where(eq(descriptionFiles.sha256, sha256))
    await transaction.delete(shelfItems).where(eq(shelfItems.sha256, sha256))
    await insertItems(transaction, file)
  })
}

/** Written JSON as the database's own, without being a text of this program in between. */
const asJson = (utf8: Uint8Array) =>
  sql`convert_from(${Buffer.from(utf8.buffer, utf8.byteOffset, utf8.byteLength)}::bytea, 'UTF8')::jsonb`

async function insertItems(db: Connection, { sha256, items, summary }: NewFile): Promise<void> {
  await db.execute(sql`
    insert into shelf_items (sha256, kind, key, name, order_number, info, words)
    select ${sha256}, kind, key, name, "orderNumber", info, lower(concat_ws(' ', "orderNumber", name, info, ${`${summary.vendor} ${summary.family}`}::text))
    from jsonb_to_recordset(${asJson(items)}) as item (kind text, key text, name text, "orderNumber" text, info text)`)
}

export async function filesOfOlderReaders(
  db: Connection,
  reader: number,
): Promise<{ sha256: string; name: string }[]> {
  return db
    .select({ sha256: descriptionFiles.sha256, name: descriptionFiles.name })
    .from(descriptionFiles)
    .where(lt(descriptionFiles.reader, reader))
}

export interface Hit extends ShelfItem {
  readonly sha256: string
  readonly fileName: string
  readonly vendor: string
  readonly protocol: string | null
}

/** Items whose order number, name, information, maker or family hold every word; exact order
 *  numbers first. */
export async function searchItems(
  db: Connection,
  words: readonly string[],
  most: number,
): Promise<Hit[]> {
  const pattern = (word: string) => `%${word.replace(/[\\%_]/g, '\\$&')}%`
  const found = await db
    .select({
      sha256: shelfItems.sha256,
      kind: shelfItems.kind,
      key: shelfItems.key,
      name: shelfItems.name,
      orderNumber: shelfItems.orderNumber,
      info: shelfItems.info,
      fileName: descriptionFiles.name,
      vendor: sql<string>`${descriptionFiles.summary}->>'vendor'`,
      protocol: sql<string | null>`${descriptionFiles.summary}->>'protocol'`,
    })
    .from(
      db
        .select()
        .from(shelfItems)
        .where(
          sql.join(
            words.map((word) => sql`${shelfItems.words} like ${pattern(word)}`),
            sql` and `,
          ),
        )
        .limit(most)
        .as('shelf_items'),
    )
    .innerJoin(descriptionFiles, eq(descriptionFiles.sha256, shelfItems.sha256))
  return found as Hit[]
}

export async function loadCatalogs(
  db: Connection,
  hashes: readonly string[],
): Promise<{ sha256: string; catalog: DeviceFile }[]> {
  if (hashes.length === 0) return []
  const found = await db
    .select({ sha256: descriptionFiles.sha256, catalog: descriptionFiles.catalog })
    .from(descriptionFiles)
    .where(inArray(descriptionFiles.sha256, [...hashes]))
  return found.map(({ sha256, catalog }) => ({ sha256, catalog: unpackFile(catalog) }))
}

/** The packed catalog as JSON text, as it goes to the browser. */
export async function loadPacked(db: Connection, sha256: string): Promise<string | null> {
  const [row] = await db
    .select({ catalog: sql<string>`${descriptionFiles.catalog}::text` })
    .from(descriptionFiles)
    .where(eq(descriptionFiles.sha256, sha256))
  return row?.catalog ?? null
}

export async function fileNames(
  db: Connection,
  hashes: readonly string[],
): Promise<{ sha256: string; name: string }[]> {
  if (hashes.length === 0) return []
  return db
    .select({ sha256: descriptionFiles.sha256, name: descriptionFiles.name })
    .from(descriptionFiles)
    .where(inArray(descriptionFiles.sha256, [...hashes]))
}

export async function loadContent(
  db: Connection,
  sha256: string,
): Promise<{ name: string; content: Uint8Array } | null> {
  const [row] = await db
    .select({ name: descriptionFiles.name, content: descriptionFiles.content })
    .from(descriptionFiles)
    .where(eq(descriptionFiles.sha256, sha256))
  return row ?? null
}

/** Keeps files on the Shelf until the transaction ends; gives those that are there. */
export async function lockFiles(
  db: Connection,
  hashes: readonly string[],
): Promise<ReadonlySet<string>> {
  const found = await db
    .select({ sha256: descriptionFiles.sha256 })
    .from(descriptionFiles)
    .where(inArray(descriptionFiles.sha256, [...hashes]))
    .orderBy(asc(descriptionFiles.sha256))
    .for('key share')
  return new Set(found.map(({ sha256 }) => sha256))
}

/** Waits for whoever is about to use a file; from then on nobody begins to. */
export async function lockForRemoval(db: Connection, sha256: string): Promise<boolean> {
  const found = await db
    .select({ sha256: descriptionFiles.sha256 })
    .from(descriptionFiles)
    .where(eq(descriptionFiles.sha256, sha256))
    .for('update')
  return found.length > 0
}

export async function deleteFile(db: Connection, sha256: string): Promise<boolean> {
  const deleted = await db
    .delete(descriptionFiles)
    .where(eq(descriptionFiles.sha256, sha256))
    .returning({ sha256: descriptionFiles.sha256 })
  return deleted.length > 0
}

export interface Use {
  readonly projectId: string
  readonly project: string
  readonly stationId: string
  readonly station: string
}

/** Stations that are built on a file, or have a device out of it below one of their ports; and
 *  projects that a sheet adds to. */
export async function usesOf(db: Connection, sha256: string): Promise<Use[]> {
  const holds = (plugged: Column) =>
    sql`jsonb_path_exists(${plugged}, '$.*.file ? (@ == $file)', jsonb_build_object('file', ${sha256}::text))`
  const added = await db
    .select({ projectId: projects.id, project: projects.name })
    .from(projects)
    .where(sql`${projects.supplements} @> ${JSON.stringify([sha256])}::jsonb`)
  const built = await db
    .select({
      projectId: projects.id,
      project: projects.name,
      stationId: stations.id,
      station: stations.name,
    })
    .from(stations)
    .innerJoin(projects, eq(projects.id, stations.projectId))
    .where(
      or(
        eq(stations.file, sha256),
        holds(stations.plugged),
        exists(
          db
            .select({ one: sql`1` })
            .from(modules)
            .where(
              and(
                eq(modules.projectId, stations.projectId),
                eq(modules.stationId, stations.id),
                holds(modules.plugged),
              ),
            ),
        ),
      ),
    )
    .orderBy(projects.name, stations.name)
  return [
    ...added.map((one) => ({ ...one, stationId: '', station: 'the whole project' })),
    ...built,
  ]
}

import { asc, eq, inArray } from 'drizzle-orm'
import type { DeviceFile } from '@kataxis/core'
import type { Connection } from '../db/connect'
import { descriptionFiles, projects, stations } from '../db/schema'

type NewFile = Omit<typeof descriptionFiles.$inferInsert, 'addedAt'>

export async function listFiles(db: Connection) {
  return db.select({ sha256: descriptionFiles.sha256, name: descriptionFiles.name, bytes: descriptionFiles.bytes, addedAt: descriptionFiles.addedAt, summary: descriptionFiles.summary })
    .from(descriptionFiles).orderBy(asc(descriptionFiles.name))
}

/** False where the same bytes already stand on the Shelf. */
export async function insertFile(db: Connection, file: NewFile): Promise<boolean> {
  const inserted = await db.insert(descriptionFiles).values(file).onConflictDoNothing().returning({ sha256: descriptionFiles.sha256 })
  return inserted.length > 0
}

export async function loadCatalogs(db: Connection, hashes: readonly string[]): Promise<{ sha256: string; catalog: DeviceFile }[]> {
  if (hashes.length === 0) return []
  return db.select({ sha256: descriptionFiles.sha256, catalog: descriptionFiles.catalog }).from(descriptionFiles).where(inArray(descriptionFiles.sha256, [...hashes]))
}

export async function fileNames(db: Connection, hashes: readonly string[]): Promise<{ sha256: string; name: string }[]> {
  if (hashes.length === 0) return []
  return db.select({ sha256: descriptionFiles.sha256, name: descriptionFiles.name }).from(descriptionFiles).where(inArray(descriptionFiles.sha256, [...hashes]))
}

export async function loadContent(db: Connection, sha256: string): Promise<{ name: string; content: Uint8Array } | null> {
  const [row] = await db.select({ name: descriptionFiles.name, content: descriptionFiles.content }).from(descriptionFiles).where(eq(descriptionFiles.sha256, sha256))
  return row ?? null
}

export async function deleteFile(db: Connection, sha256: string): Promise<boolean> {
  const deleted = await db.delete(descriptionFiles).where(eq(descriptionFiles.sha256, sha256)).returning({ sha256: descriptionFiles.sha256 })
  return deleted.length > 0
}

/** Stations that are built on a file. */
export async function usesOf(db: Connection, sha256: string): Promise<{ project: string; station: string }[]> {
  return db.select({ project: projects.name, station: stations.name }).from(stations).innerJoin(projects, eq(projects.id, stations.projectId)).where(eq(stations.file, sha256))
}

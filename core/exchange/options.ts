import { z } from 'zod'
import { id } from '../plan/model'

export const separators = [',', ';', '\t'] as const
export const encodings = ['utf-8', 'utf-16le', 'windows-1252'] as const
export const paperSizes = ['A4', 'A3', 'Letter'] as const

const ids = z.array(id).max(10_000).default([])

/** What can be chosen for an export; each format takes what matters to it. */
export const exportOptions = z
  .object({
    /** Only what belongs to this controller; empty: all. */
    controller: z.union([z.literal(''), id]).default(''),
    /** Only these stations and what is in these areas; none named: all. */
    stations: ids,
    areas: z.array(z.string().max(100)).max(1000).default([]),
    /** Columns of the I/O list in this order, by their keys in `ioColumns`; none named: all. */
    columns: z.array(z.string().max(40)).max(100).default([]),
    separator: z.enum(separators).default(','),
    encoding: z.enum(encodings).default('utf-8'),
    paper: z.enum(paperSizes).default('A4'),
    /** Width and height of a label in millimetres. */
    label: z.tuple([z.number().min(4).max(200), z.number().min(3).max(100)]).default([40, 9]),
  })
  .strict()

export type ExportOptions = z.infer<typeof exportOptions>
export const usualOptions: ExportOptions = exportOptions.parse({})

/** An export that cannot be written as it is asked for; the message is a sentence. */
export class CannotExport extends Error {}

import { formatNames, protocolTitle } from '@kataxis/core'
import type { ShelfFile } from '../../api/client'

/** Ways to sort the Shelf; a file stands once in each of the groups it names. */
export const groupings = {
  maker: {
    label: 'Maker',
    groupsOf: ({ summary }: ShelfFile) => [summary.vendor || 'Unnamed maker'],
  },
  network: {
    label: 'Network',
    groupsOf: ({ summary }: ShelfFile) => [
      summary.protocol ? protocolTitle(summary.protocol) : 'Without a network',
    ],
  },
  family: {
    label: 'Family',
    groupsOf: ({ summary }: ShelfFile) => [summary.family || 'Without a family'],
  },
  offers: {
    label: 'What it offers',
    groupsOf: ({ summary }: ShelfFile) =>
      summary.offers.length > 0
        ? summary.offers.map((offer) => offerNames[offer] ?? offer)
        : ['No named data'],
  },
  format: { label: 'Format', groupsOf: ({ summary }: ShelfFile) => [formatNames[summary.format]] },
} as const
export type GroupingName = keyof typeof groupings

const offerNames: Readonly<Record<string, string>> = {
  DI: 'Digital inputs',
  DO: 'Digital outputs',
  AI: 'Analog inputs',
  AO: 'Analog outputs',
  PI: 'Other input data',
  PO: 'Other output data',
  'fail-safe': 'Fail-safe',
}

/** Groups in alphabetical order, each with its files in order of family and name. */
export function groupFiles(
  files: readonly ShelfFile[],
  by: GroupingName,
): { name: string; files: ShelfFile[] }[] {
  const groups = new Map<string, ShelfFile[]>()
  for (const file of files)
    for (const name of groupings[by].groupsOf(file))
      groups.set(name, [...(groups.get(name) ?? []), file])
  const order = (file: ShelfFile) => `${file.summary.family} ${file.name}`
  return [...groups]
    .sort(([a], [b]) => a.localeCompare(b))
    .map(([name, own]) => ({ name, files: own.sort((a, b) => order(a).localeCompare(order(b))) }))
}

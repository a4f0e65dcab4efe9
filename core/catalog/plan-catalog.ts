import type { DataLayouts } from '../vocabulary/data-layout'
import type { Catalog } from './catalog'
import { withOwnData } from './own-data'
import { supplemented } from './supplement'

/** Descriptions as a project sees them: with the sheets that add to them, and its own data layouts. */
export function catalogFor(
  {
    supplements,
    dataLayouts,
  }: {
    readonly supplements: readonly string[]
    readonly dataLayouts: DataLayouts
  },
  catalog: Catalog,
): Catalog {
  return withOwnData(supplemented(catalog, supplements), dataLayouts)
}

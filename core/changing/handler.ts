import type { Catalog } from '../catalog/catalog'
import type { CommandOf, CommandType } from '../plan/commands'
import type { Draft } from '../plan/draft'
import type { Refusal } from '../plan/refusals'

/** Changes the draft, or says why not; then the draft is thrown away. */
export type Handler<T extends CommandType> = (
  draft: Draft,
  catalog: Catalog,
  command: CommandOf<T>,
) => Refusal | null

import type { MenuPlace, Parameter, ParameterIs } from '../catalog/model'
import type { Position, Problems } from '../vocabulary/problem'

/** A menu as a file writes it: its name is filled in when all texts are known. */
export interface Menu {
  readonly id: string
  readonly label: { name: string }
  readonly entries: readonly MenuEntry[]
}

/** What a menu shows: another one by its id, or a parameter by whatever the format calls it. */
export interface MenuEntry {
  readonly kind: 'menu' | 'parameter'
  readonly target: string
  readonly at: Position
  /** What a menu is shown under. */
  readonly when?: ParameterIs
}

export type Placeable = { -readonly [K in 'menus']?: Parameter[K] }

const deepest = 16

/** Says of each parameter where menus show it: the first place, and where that is shown under
 *  conditions only, the next ones up to one that always is. `roots` are the outermost menus, all
 *  that no other names where left out. Menus that name each other end; a name that leads nowhere is
 *  told. `find` gives null where it knows no such parameter. */
export function placeInMenus(
  menus: readonly Menu[],
  problems: Problems,
  find: (target: string) => readonly Placeable[] | null,
  roots?: readonly string[],
): void {
  const byId = new Map(menus.map((menu) => [menu.id, menu]))
  const named = new Set(
    menus.flatMap(({ entries }) =>
      entries.flatMap(({ kind, target }) => (kind === 'menu' ? [target] : [])),
    ),
  )
  const outermost = roots ?? menus.flatMap(({ id }) => (named.has(id) ? [] : [id]))
  const places = new Map<string, MenuPlace[]>()
  let rank = 0
  const walk = (
    menu: Menu,
    above: readonly string[],
    conditions: readonly ParameterIs[],
    open: ReadonlySet<string>,
  ) => {
    const path = menu.label.name === '' ? above : [...above, menu.label.name]
    for (const { kind, target, at, when } of menu.entries) {
      if (kind === 'parameter') {
        const known = places.get(target) ?? []
        if (known.length > 0 && !known.at(-1)!.when) continue
        const found = find(target)
        if (!found)
          problems.error(
            'reference.parameter',
            `Parameter "${target}" is named in a menu but does not stand in the file.`,
            at,
          )
        const all = [
          ...known,
          { path, rank: rank++, ...(conditions.length > 0 && { when: conditions }) },
        ]
        places.set(target, all)
        for (const parameter of found ?? []) parameter.menus = all
        continue
      }
      const below = byId.get(target)
      if (!below)
        problems.error(
          'reference.menu',
          `Menu "${target}" is named here but does not stand in the file.`,
          at,
        )
      else if (!open.has(target) && open.size < deepest)
        walk(below, path, when ? [...conditions, when] : conditions, new Set([...open, target]))
    }
  }
  for (const id of outermost) {
    const menu = byId.get(id)
    if (menu) walk(menu, [], [], new Set([id]))
  }
}

import type { MenuPlace } from '../catalog/model'
import type { Position, Problems } from '../problem'

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
}

const deepest = 16

/** Says of each parameter where menus show it; one that stands in several keeps the first. `roots` are the outermost menus, all that no
 *  other names where left out. Menus that name each other end; a name that leads nowhere is told. `place` gives false where it knows no such parameter. */
export function placeInMenus(menus: readonly Menu[], problems: Problems, place: (target: string, menu: MenuPlace) => boolean, roots?: readonly string[]): void {
  const byId = new Map(menus.map((menu) => [menu.id, menu]))
  const named = new Set(menus.flatMap(({ entries }) => entries.flatMap(({ kind, target }) => (kind === 'menu' ? [target] : []))))
  const outermost = roots ?? menus.flatMap(({ id }) => (named.has(id) ? [] : [id]))
  const shown = new Set<string>()
  let rank = 0
  const walk = (menu: Menu, above: readonly string[], open: ReadonlySet<string>) => {
    const path = menu.label.name === '' ? above : [...above, menu.label.name]
    for (const { kind, target, at } of menu.entries) {
      if (kind === 'parameter') {
        if (shown.has(target)) continue
        shown.add(target)
        if (!place(target, { path, rank: rank++ })) problems.error('reference.parameter', `Parameter "${target}" is named in a menu but does not stand in the file.`, at)
        continue
      }
      const below = byId.get(target)
      if (!below) problems.error('reference.menu', `Menu "${target}" is named here but does not stand in the file.`, at)
      else if (!open.has(target) && open.size < deepest) walk(below, path, new Set([...open, target]))
    }
  }
  for (const id of outermost) {
    const menu = byId.get(id)
    if (menu) walk(menu, [], new Set([id]))
  }
}

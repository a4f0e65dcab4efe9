/** A key and what it does. */
export type Key = readonly [key: string, does: string]

/** Keys that hold on every stage. `docs/using/keys.md` has all of them. */
export const everywhere: readonly Key[] = [
  ['Ctrl+K', 'finds a station, module, tag or address, and does things'],
  ['Ctrl+Z, Ctrl+Y', 'undo, redo'],
  ['F8', 'goes to the next finding'],
  ['?', 'shows this help'],
]

/** Keys of one stage, by its route. */
export const stageKeys: Readonly<Record<string, readonly Key[]>> = {
  board: [
    ['arrow keys', 'walk over heads, modules and free slots'],
    ['letters, digits', 'insert into the free slot with the cursor'],
    ['Enter, Esc', 'opens the sheet, leads back to the tile'],
    ['Shift+arrows, Shift+click', 'select what lies between'],
    ['Ctrl+click', 'picks single ones'],
    ['Ctrl+C, Ctrl+X, Ctrl+V', 'copy, cut, paste modules'],
    ['Ctrl+D on a head', 'makes copies of the station'],
    ['Alt+arrows', 'moves a module or station'],
    ['Alt+R', 'another type or head'],
    ['Delete', 'removes'],
    ['+, −', 'nearer, farther'],
  ],
  ledger: [
    ['letters, F2', 'type over, edit what is there'],
    ['Ctrl+D', 'continues the first rows of the selection downwards'],
    ['Home, End', 'first, last column; with Ctrl first, last row'],
    ['PageUp, PageDown', 'a page up, down'],
    ['Delete', 'empties'],
    ['Tab, Shift+Tab', 'next, previous cell; at the end of a row out of the grid'],
    ['Alt+Enter or Shift+Enter in a comment', 'begins a line'],
  ],
  memory: [['Alt+arrows', 'next place that takes the block']],
}

/** The grid package fetches its parts in turn when a grid is first drawn. A small one out of sight
 *  has them fetched at once, while the plan is still on its way. */
export function warmGrid(): void {
  const grid = Object.assign(document.createElement('revo-grid'), {
    columns: [{ prop: 'nothing' }],
    source: [{ nothing: '' }],
    hideAttribution: true,
    inert: true,
    ariaHidden: 'true',
  })
  grid.style.cssText = 'position: fixed; left: -500px; width: 200px; height: 90px'
  document.body.append(grid)
  setTimeout(() => grid.remove(), shownMs)
}
/** Longer than its parts take to come. */
const shownMs = 3000

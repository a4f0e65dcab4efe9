import { onBeforeUnmount, watch, type Ref } from 'vue'

/** Roles that the grid package leaves out: its headings stand in a row, its row numbers are
 *  headings of rows, and what scrolls can be reached by the keyboard. It draws anew as it likes, so
 *  they are set again whenever it does. */
export function useGridRoles(holder: Ref<HTMLElement | undefined>): void {
  const set = (root: HTMLElement) => {
    const give = (selector: string, name: string, value: string) => {
      for (const one of root.querySelectorAll(selector))
        if (one.getAttribute(name) !== value) one.setAttribute(name, value)
    }
    give('.header-rgRow:has([role="columnheader"])', 'role', 'row')
    give('revogr-data[col-type="rowHeaders"] .rgCell', 'role', 'rowheader')
    // The grid itself is one stop of Tab: its scrolling part.
    give('revo-grid', 'tabindex', '-1')
    give('.rgCol .vertical-inner', 'role', 'rowgroup')
    give('.rgCol .vertical-inner', 'tabindex', '0')
  }
  const observer = new MutationObserver(() => holder.value && set(holder.value))
  watch(
    holder,
    (root) => {
      observer.disconnect()
      if (!root) return
      set(root)
      observer.observe(root, { childList: true, subtree: true })
    },
    { immediate: true },
  )
  onBeforeUnmount(() => observer.disconnect())
}

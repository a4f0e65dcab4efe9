import { useEventListener } from '@vueuse/core'
import { onBeforeUnmount, type Ref } from 'vue'
import type { GridCell } from './grid-edits'

interface Open<Row> {
  readonly row: Row
  readonly column: string
  text: string | null
}

/** What the grid says when it opens a cell. */
interface Begun<Row> {
  readonly model?: Row
  readonly prop?: string | number
  readonly val?: string
}

/** What somebody types into a cell of the grid is taken over however he leaves it: by another cell,
 *  another field, another stage. The grid package throws it away unless Enter or Tab ends it; Esc
 *  still does. */
export function useTypedCells<Row>(
  holder: Ref<HTMLElement | undefined>,
  take: (cells: GridCell<Row>[]) => void,
) {
  let open: Open<Row> | null = null
  const isInEditor = (target: EventTarget | null) =>
    target instanceof Element &&
    target.closest('revogr-edit') !== null &&
    holder.value?.contains(target) === true

  /** The grid opens an editor. */
  function begin(event: Event): void {
    settle()
    const { model, prop, val } = (event as CustomEvent<Begun<Row>>).detail
    // A letter that opens a cell is the first of its text; Enter and F2 bring none.
    const text = val ? val : null
    open = model && prop !== undefined ? { row: model, column: String(prop), text } : null
  }
  /** The grid has taken the text itself. */
  function end(): void {
    open = null
  }
  function settle(): void {
    const typed = open
    open = null
    if (typed && typed.text !== null)
      take([{ row: typed.row, column: typed.column, text: typed.text }])
  }

  /** What stands in the editor: first letters come into it without an event of their own. */
  function look(): void {
    const field = holder.value?.querySelector<HTMLInputElement | HTMLTextAreaElement>(
      'revogr-edit input, revogr-edit textarea',
    )
    if (open && field) open.text = field.value
  }
  useEventListener(
    window,
    ['input', 'keyup'],
    ({ target }: Event) => {
      if (isInEditor(target)) look()
    },
    { capture: true },
  )
  useEventListener(
    window,
    'keydown',
    (event) => {
      if (event.key === 'Escape' && isInEditor(event.target)) end()
    },
    { capture: true },
  )
  // Letters that come before the field is drawn; the grid keeps them for it, and here they are kept
  // for whoever leaves even before that.
  useEventListener(
    window,
    'keydown',
    ({ key, target, ctrlKey, metaKey, altKey }) => {
      const isLetter = key.length === 1 && !ctrlKey && !metaKey && !altKey
      const isAhead = isLetter && !isInEditor(target) && holder.value?.contains(target as Node)
      if (open && isAhead) open.text = `${open.text ?? ''}${key}`
    },
    { capture: true },
  )
  // Whoever types quickly ends the entry before its field is drawn; the key waits for the field.
  useEventListener(
    window,
    'keydown',
    (event) => {
      const ends = event.key === 'Enter' || event.key === 'Tab'
      const isAhead = open !== null && ends && !isInEditor(event.target)
      if (!isAhead || !holder.value?.contains(event.target as Node)) return
      event.preventDefault()
      event.stopImmediatePropagation()
      void passOn(event)
    },
    { capture: true },
  )
  async function passOn({ key, code, shiftKey }: KeyboardEvent): Promise<void> {
    for (let frames = 0; open !== null && frames < 120; frames++) {
      const at = document.activeElement
      if (isInEditor(at))
        return void at!.dispatchEvent(
          new KeyboardEvent('keydown', { key, code, shiftKey, bubbles: true, cancelable: true }),
        )
      await new Promise(requestAnimationFrame)
    }
  }
  // Before the grid, which takes the editor away.
  useEventListener(
    window,
    'pointerdown',
    ({ target }) => {
      if (isInEditor(target)) return
      look()
      settle()
    },
    { capture: true },
  )
  // Enter and Tab leave the field first and store then.
  useEventListener(
    window,
    'focusout',
    ({ target }) => {
      if (!isInEditor(target)) return
      look()
      setTimeout(settle)
    },
    { capture: true },
  )
  // The grid package hears keys wherever they are pressed: whoever types into another field is not
  // to empty a cell.
  useEventListener(window, 'focusin', ({ target }) => {
    const isElsewhere =
      target instanceof Element &&
      target.matches('input, textarea, select') &&
      !holder.value?.contains(target)
    if (!isElsewhere) return
    look()
    settle()
    void holder.value
      ?.querySelector<HTMLElement & { clearFocus(): Promise<void> }>('revo-grid')
      ?.clearFocus()
  })
  onBeforeUnmount(() => {
    look()
    settle()
  })
  return { begin, end }
}

declare module '*.css'
declare module '@fontsource/*'
declare module '@dragdroptouch/drag-drop-touch' {
  /** Makes touches that stay pressed into events of drag and drop. */
  export function enableDragDropTouch(
    from: Document,
    to: Document,
    options: { readonly isPressHoldMode: boolean },
  ): void
}

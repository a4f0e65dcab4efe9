import type { EditCell, EditorBase, HyperFunc, VNode } from '@revolist/vue3-datagrid'

/** An editor of the grid package for texts of several lines: Enter stores, Shift or Alt with Enter
 *  begins a line. */
export class MultilineEditor implements EditorBase {
  element: Element | null = null
  editCell?: EditCell
  private field: HTMLTextAreaElement | null = null

  constructor(
    _column: unknown,
    private readonly save: (value: string, goOn?: boolean) => void,
  ) {}

  getValue(): string | undefined {
    return this.field?.value
  }
  /** A letter that was typed before the field had the keyboard. */
  appendPendingInput(letter: string): boolean {
    if (!this.field) return false
    this.field.value += letter
    this.field.focus()
    return true
  }
  beforeDisconnect(): void {
    this.field?.blur()
  }
  async componentDidRender(): Promise<void> {
    await new Promise((done) => setTimeout(done))
    this.field?.focus()
  }
  render(h: HyperFunc<VNode>): VNode {
    return h('textarea', {
      class: 'multiline',
      rows: Math.min(6, this.text.split('\n').length + 1),
      value: this.text,
      ref: (field: HTMLTextAreaElement) => (this.field = field),
      onKeyDown: (event: KeyboardEvent) => this.onKeyDown(event),
    })
  }

  private get text(): string {
    return String(this.editCell?.val ?? '')
  }
  private onKeyDown(event: KeyboardEvent): void {
    const field = event.target as HTMLTextAreaElement
    const isEnter = event.key === 'Enter'
    if (isEnter && (event.shiftKey || event.altKey)) {
      event.stopPropagation()
      if (event.altKey) field.setRangeText('\n', field.selectionStart, field.selectionEnd, 'end')
    } else if ((isEnter || event.key === 'Tab') && !event.isComposing) {
      event.preventDefault()
      this.beforeDisconnect()
      this.save(field.value, event.key === 'Tab')
    }
  }
}

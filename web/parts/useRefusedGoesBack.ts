import { useEventListener } from '@vueuse/core'

type Choice = HTMLSelectElement | HTMLInputElement

/** A list or box shows what the plan says again at once where the change was refused. `refusal`
 *  gives another thing after each refusal. */
export function useRefusedGoesBack(refusal: () => unknown): void {
  const shown = new WeakMap<Choice, string | boolean>()
  let before: unknown = null
  const choiceIn = ({ target }: Event): Choice | null =>
    target instanceof HTMLSelectElement ||
    (target instanceof HTMLInputElement && target.type === 'checkbox')
      ? target
      : null
  const remember = (choice: Choice) =>
    shown.set(choice, choice instanceof HTMLSelectElement ? choice.value : choice.checked)

  useEventListener(
    window,
    ['focusin', 'pointerdown'],
    (event: Event) => {
      const choice = choiceIn(event)
      if (choice) remember(choice)
    },
    { capture: true },
  )
  // Before and after whoever listens at the field itself.
  useEventListener(window, 'change', () => (before = refusal()), { capture: true })
  useEventListener(window, 'change', (event) => {
    const choice = choiceIn(event)
    if (!choice) return
    const old = shown.get(choice)
    if (refusal() !== before && old !== undefined) {
      if (choice instanceof HTMLSelectElement) choice.value = String(old)
      else choice.checked = old === true
    } else remember(choice)
  })
}

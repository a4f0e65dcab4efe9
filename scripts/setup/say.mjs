/** One line for the person at the terminal. */
export function say(sentence) {
  process.stderr.write(`${sentence}\n`)
}

/** Something that cannot be done: one sentence, no stack trace. */
export class CannotGoOn extends Error {}

/** Ends a script with the sentence of what went wrong. */
export function failWith(error) {
  say(
    error instanceof CannotGoOn
      ? error.message
      : `Something unforeseen went wrong: ${error?.stack ?? error}`,
  )
  process.exit(1)
}

export const textOf = (value: unknown) => `${JSON.stringify(value, null, 2)}\n`

/** JSON for programs goes to standard output, and nothing else does. */
export function print(value: unknown): void {
  process.stdout.write(textOf(value))
}

export function tell(sentence: string): void {
  process.stderr.write(`${sentence}\n`)
}

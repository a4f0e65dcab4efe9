export interface Replacement {
  readonly find: string
  /** With `$1`, `$2` … for groups and `$&` for all that was found, where `isPattern`. */
  readonly with: string
  readonly isPattern: boolean
  readonly matchesCase: boolean
}

/** A replacement made ready for many texts: all places in each are replaced. A sentence where the
 *  pattern is none. */
export function replacer({
  find,
  with: text,
  isPattern,
  matchesCase,
}: Replacement): ((text: string) => string) | string {
  if (find === '') return 'Nothing to be found is given.'
  const flags = `g${matchesCase ? '' : 'i'}u`
  try {
    const pattern = new RegExp(
      isPattern
        ? find
        : find.replace(/[\\^$.*+?()[\]{}|/-]/g, (sign) => (sign === '-' ? '\\x2d' : `\\${sign}`)),
      flags,
    )
    return (given) =>
      isPattern ? given.replace(pattern, text) : given.replace(pattern, () => text)
  } catch (error) {
    return `"${find}" is no pattern: ${error instanceof Error ? error.message.replace(/^Invalid regular expression: /, '') : 'it cannot be read'}.`
  }
}

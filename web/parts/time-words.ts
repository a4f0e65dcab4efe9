const format = new Intl.DateTimeFormat('en-GB', {
  day: '2-digit',
  month: 'short',
  hour: '2-digit',
  minute: '2-digit',
  second: '2-digit',
})

/** When something was changed, for its person. */
export const timeWords = (at: string) => format.format(new Date(at))

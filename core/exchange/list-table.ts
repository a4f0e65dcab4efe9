/** A table as somebody keeps it: its headings, and rows of text with the number each has in the
 *  file. */
export interface ListTable {
  readonly name: string
  readonly headings: readonly string[]
  readonly rows: readonly { readonly line: number; readonly cells: readonly string[] }[]
  /** What was done with merged cells, formulas, headings that stand twice. */
  readonly notes: readonly string[]
  /** Set where not every signal can stand in such a file: only those with a channel, and a tag that
   *  is an identifier. */
  readonly holds?: 'variables'
}

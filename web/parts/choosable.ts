/** One of the things that a page can be opened for. */
export interface Choosable {
  /** As findings name it. */
  readonly id: string
  readonly name: string
  readonly info: string
  readonly station: string
  readonly place: string
}

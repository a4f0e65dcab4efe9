/** What a value of process data is; each reader says it by the types of its format. `word`: of a
 *  number only the width is known; `other`: no number, such as a text, a time or a row of bits;
 *  `trailer`: octets of the fail-safe layer, which are no channel. */
export type DataKind = NumberKind | 'boolean' | 'word' | 'other' | 'trailer'

export type NumberKind = 'unsigned' | 'signed' | 'float'

/** How the octets of such a value are read as a number. */
export function numberKindOf(kind: DataKind): NumberKind {
  return kind === 'signed' || kind === 'float' ? kind : 'unsigned'
}

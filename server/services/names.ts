import unhomoglyph from 'unhomoglyph'

/** What a full name looks like to people: letters that look alike are the same, as are upper and
 *  lower case and any space between words (Unicode Technical Standard 39, skeletons). */
export function looksLike(name: string): string {
  const plain = unhomoglyph(name.normalize('NFKC')).normalize('NFKD')
  return plain
    .replace(/\p{M}|\p{Cf}/gu, '')
    .toLowerCase()
    .replace(/[\s._-]+/g, ' ')
    .trim()
    .replace(/[il1|]/g, 'l')
    .replace(/0/g, 'o')
}

/** IEC 61131-3:2013, table 2 and annex C (from memory): words that no identifier may be. */
const keywords = new Set(
  `ABS ABSTRACT ACTION AND ARRAY AT BOOL BY BYTE CASE CHAR CLASS CONFIGURATION CONSTANT CONTINUE DATE DATE_AND_TIME DINT DO DT
  DWORD ELSE ELSIF END_ACTION END_CASE END_CLASS END_CONFIGURATION END_FOR END_FUNCTION END_FUNCTION_BLOCK END_IF END_INTERFACE
  END_METHOD END_NAMESPACE END_PROGRAM END_REPEAT END_RESOURCE END_STEP END_STRUCT END_TRANSITION END_TYPE END_VAR END_WHILE EXIT
  EXTENDS FALSE FINAL FOR FROM FUNCTION FUNCTION_BLOCK F_EDGE IF IMPLEMENTS INITIAL_STEP INT INTERFACE INTERNAL INTERVAL LDATE LDT
  LINT LREAL LTIME LTOD LWORD METHOD MOD NAMESPACE NON_RETAIN NOT NULL OF ON OR OVERLAP OVERRIDE PRIORITY PRIVATE PROGRAM PROTECTED
  PUBLIC READ_ONLY READ_WRITE REAL REF REF_TO REPEAT RESOURCE RETAIN RETURN R_EDGE SINGLE SINT STEP STRING STRUCT SUPER TASK THEN
  THIS TIME TIME_OF_DAY TO TOD TRANSITION TRUE TYPE UDINT UINT ULINT UNTIL USING USINT VAR VAR_ACCESS VAR_CONFIG VAR_EXTERNAL
  VAR_GLOBAL VAR_INPUT VAR_IN_OUT VAR_OUTPUT VAR_TEMP WCHAR WHILE WITH WORD WSTRING XOR`.split(
    /\s+/,
  ),
)

/** What a project asks of its tags beside IEC 61131-3: what its target takes. */
export interface TagRules {
  readonly tagLength: number
  readonly tagCase: 'any' | 'upper' | 'lower'
  readonly reservedWords: readonly string[]
}

/** What is wrong with a tag as an IEC 61131-3 identifier (6.1.2): letter or underscore first, then
 *  letters, digits and single underscores, none at the end, no keyword. The sentence names the
 *  character. Null where it is right. */
export function tagFault(
  tag: string,
  { tagLength, tagCase, reservedWords }: TagRules,
): string | null {
  const illegal = /[^A-Za-z0-9_]/u.exec(tag)
  if (illegal)
    return `"${illegal[0]}" at position ${illegal.index + 1} is not a letter, digit or underscore`
  if (/^\d/.test(tag)) return `it begins with the digit "${tag[0]}"`
  const double = tag.indexOf('__')
  if (double >= 0) return `two underscores follow each other at position ${double + 1}`
  if (tag.endsWith('_')) return 'it ends with an underscore'
  if (keywords.has(tag.toUpperCase())) return `${tag.toUpperCase()} is a keyword of IEC 61131-3`
  if (tag.length > tagLength)
    return `its ${tag.length} characters are more than the ${tagLength} this project allows`
  const other =
    tagCase === 'upper' ? /[a-z]/.exec(tag) : tagCase === 'lower' ? /[A-Z]/.exec(tag) : null
  if (other)
    return `"${other[0]}" at position ${other.index + 1} is a ${tagCase === 'upper' ? 'small' : 'capital'} letter; this project writes ${tagCase === 'upper' ? 'capitals' : 'small ones'}`
  const reserved =
    reservedWords.length > 0
      ? reservedWords.find((word) => tagIdentity(word) === tagIdentity(tag))
      : undefined
  if (reserved !== undefined) return `${reserved} is reserved in this project`
  return null
}

/** Identifiers that differ only in case are the same (IEC 61131-3, 6.1.2). */
export function tagIdentity(tag: string): string {
  return tag.toUpperCase()
}

/** A legal tag as near as possible to what was typed; empty where nothing legal is left. */
export function legalTag(tag: string, rules: TagRules): string {
  let legal = tag
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .replace(/[^A-Za-z0-9_]+/g, '_')
    .replace(/_{2,}/g, '_')
  if (/^\d/.test(legal)) legal = `_${legal}`
  if (rules.tagCase !== 'any')
    legal = rules.tagCase === 'upper' ? legal.toUpperCase() : legal.toLowerCase()
  const cut = (length: number) => legal.slice(0, length).replace(/_+$/, '')
  const isReserved = (word: string) =>
    keywords.has(word.toUpperCase()) ||
    rules.reservedWords.some((one) => tagIdentity(one) === tagIdentity(word))
  return isReserved(cut(rules.tagLength)) ? `${cut(rules.tagLength - 2)}_1` : cut(rules.tagLength)
}

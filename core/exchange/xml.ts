/** Characters that XML 1.0 (2.2) does not take at all. */
const impossible = /[^\t\n\r\u0020-\ud7ff\ue000-\ufffd\u{10000}-\u{10ffff}]/gu
const special = /[&<>"\t\r\n]/g
/** Anything but what stands for itself in XML, whatever it is. */
const needsCare = /[^ !#-%'-;=?-\ud7ff\ue000-\ufffd]/
const entities: Readonly<Record<string, string>> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  '\t': '&#9;',
  '\r': '&#13;',
  '\n': '&#10;',
}

/** A text for the content of an element or the value of an attribute (XML 1.0, 2.4); characters that
 *  XML does not take become U+FFFD. */
export function xmlText(text: string): string {
  return needsCare.test(text)
    ? text.replace(impossible, '\ufffd').replace(special, (sign) => entities[sign]!)
    : text
}

export const xmlDeclaration = '<?xml version="1.0" encoding="utf-8"?>\n'

/** Times in files that have to have one, where nobody knows when the revision was made: the same in
 *  each, so that one plan gives one file. */
export const noMoment = '2000-01-01T00:00:00Z'

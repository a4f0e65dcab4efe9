import { readCaex } from './caex/read'
import type { ListTable } from './list-table'
import { readVariables } from './programs/read'

/** Which reader takes a file, by its outermost element. */
const readers: Readonly<Record<string, (text: string, fileName: string) => ListTable | string>> = {
  project: readVariables,
  caexfile: readCaex,
}

/** Signals of an XML file as a table; a sentence where it is none that is known. */
export function readXmlList(text: string, fileName: string): ListTable | string {
  const head = text.slice(0, 20_000).replace(/<!--[\s\S]*?-->|<\?[\s\S]*?\?>/g, '')
  if (/<!DOCTYPE/i.test(head))
    return `${fileName}: the file has a DOCTYPE; declarations of its own are not read.`
  const root = /<(?:[\w.-]+:)?([\w.-]+)/.exec(head)?.[1] ?? ''
  const read = readers[root.toLowerCase()]
  return read
    ? read(text, fileName)
    : `${fileName}: its outermost element is "${root}"; files by PLCopen TC6, IEC 61131-10 and CAEX are read.`
}

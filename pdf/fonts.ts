import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import * as fontkit from 'fontkit'
import type { Face, Measure } from '@kataxis/core'
import { unpackWoff } from './woff'
import { visualParts } from './visual-order'

const require = createRequire(import.meta.url)

/** The program's own fonts, by the sets of characters that their files hold; what one has not, the
 *  next one of its row may. */
const sets: Readonly<Record<Face, readonly (readonly [family: string, weight: number])[]>> = {
  text: [['sans', 400]],
  strong: [['sans', 600]],
  narrow: [
    ['sans-condensed', 400],
    ['sans', 400],
  ],
  narrowStrong: [
    ['sans-condensed', 600],
    ['sans', 600],
  ],
  mono: [
    ['mono', 400],
    ['sans', 400],
  ],
}
/** Latin first: most texts need no other. Hebrew and Arabic have files of their own. */
const subsets = ['latin', 'latin-ext', 'greek', 'cyrillic', 'cyrillic-ext', 'vietnamese']
const others = ['sans-hebrew/hebrew', 'sans-arabic/arabic'] as const

export interface FontFile {
  readonly name: string
  readonly bytes: Buffer
  readonly font: fontkit.Font
}

const files = new Map<string, FontFile | null>()

/** A file of a font package; null where the family has no such set. */
function fontFile(family: string, subset: string, weight: number): FontFile | null {
  const name = `ibm-plex-${family}/files/ibm-plex-${family}-${subset}-${weight}-normal.woff`
  let file = files.get(name)
  if (file === undefined) {
    file = read(name)
    files.set(name, file)
  }
  return file
}

function read(name: string): FontFile | null {
  try {
    const bytes = unpackWoff(readFileSync(require.resolve(`@fontsource/${name}`)))
    return { name, bytes, font: fontkit.create(bytes) as fontkit.Font }
  } catch {
    return null
  }
}

export interface DocumentFonts {
  readonly measure: Measure
  /** A text in runs of one file each, from left to right as they are seen; characters that no file has stand in the first one, which draws
   *  a box for them. */
  readonly runs: (text: string, face: Face) => { readonly file: FontFile; readonly text: string }[]
}

let fonts: DocumentFonts | null = null

/** Fonts of the program for documents, read once they are needed. */
export function documentFonts(): DocumentFonts {
  return (fonts ??= makeFonts())
}

function makeFonts(): DocumentFonts {
  const found = new Map<string, FontFile>()
  const widths = new Map<Face, Map<string, number>>()
  const fileOf = (sign: string, face: Face): FontFile => {
    const key = `${face}${sign}`
    let file = found.get(key)
    if (!file) {
      file = look(sign, face)
      found.set(key, file)
    }
    return file
  }
  return {
    measure: (sign, face) => {
      let known = widths.get(face)
      if (!known) widths.set(face, (known = new Map()))
      let width = known.get(sign)
      if (width === undefined) {
        const { font } = fileOf(sign, face)
        width = font.glyphForCodePoint(sign.codePointAt(0)!).advanceWidth / font.unitsPerEm
        known.set(sign, width)
      }
      return width
    },
    runs: (text, face) =>
      visualParts(text).flatMap((part) => {
        const runs: { file: FontFile; text: string }[] = []
        for (const sign of part) {
          const file = fileOf(sign, face)
          const last = runs.at(-1)
          // A blank belongs to what it follows.
          if (last && (last.file === file || sign === ' ')) last.text += sign
          else runs.push({ file, text: sign })
        }
        return runs
      }),
  }
}

function look(sign: string, face: Face): FontFile {
  const codePoint = sign.codePointAt(0)!
  const candidates = [
    ...sets[face].flatMap(([family, weight]) =>
      subsets.map((subset) => fontFile(family, subset, weight)),
    ),
    ...others.map((one) => {
      const [family, subset] = one.split('/') as [string, string]
      return fontFile(family, subset, 400)
    }),
  ].filter((file) => file !== null)
  return candidates.find(({ font }) => font.hasGlyphForCodePoint(codePoint)) ?? candidates[0]!
}

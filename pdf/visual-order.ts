import bidiFactory from 'bidi-js'

const bidi = bidiFactory()
/** Letters of scripts that are written from right to left (Unicode: Hebrew, Arabic and the blocks
 *  between, presentation forms). */
const rightToLeft = /[\u0590-\u08ff\ufb1d-\ufdff\ufe70-\ufefc]/

/** A line in parts from left to right as they are seen (Unicode Bidirectional Algorithm, UAX 9, rule
 *  L2). What is written from right to left comes word by word; the letters of a word stand in the
 *  order they are spoken in, since shaping turns them. */
export function visualParts(text: string): string[] {
  if (!rightToLeft.test(text)) return [text]
  const { levels } = bidi.getEmbeddingLevels(text)
  const runs: { level: number; text: string }[] = []
  for (let i = 0; i < text.length; i++) {
    const last = runs.at(-1)
    if (last && last.level === levels[i]) last.text += text[i]
    else runs.push({ level: levels[i]!, text: text[i]! })
  }
  const highest = Math.max(...runs.map(({ level }) => level))
  for (let level = highest; level > 0; level--)
    for (let from = 0; from < runs.length; from++) {
      let to = from
      while (to < runs.length && runs[to]!.level >= level) to++
      if (to === from) continue
      runs.splice(from, to - from, ...runs.slice(from, to).reverse())
      from = to
    }
  return runs.flatMap((run) =>
    run.level % 2 === 1 ? run.text.split(/( +)/).reverse() : [run.text],
  )
}

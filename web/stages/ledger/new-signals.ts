import { factColumns, judgeOfTags, tooLong, type Plan, type SignalFacts } from '@kataxis/core'

interface NewSignal {
  readonly tag: string
  readonly comment: string
  readonly facts: SignalFacts
}

/** Signals as lines: tag, comment, kind, transmitter, measures, between semicolons or tabs as a
 *  spreadsheet gives them. Empty lines are passed over; what is wrong is told with its line. */
export function readNewSignals(
  text: string,
  plan: Plan,
): { readonly signals: readonly NewSignal[]; readonly faults: readonly string[] } {
  const signals: NewSignal[] = []
  const faults: string[] = []
  if (text.trim() === '') return { signals, faults }
  const judge = judgeOfTags(plan)
  for (const [i, line] of text.split(/\r?\n/).entries()) {
    if (line.trim() === '') continue
    const [tag = '', comment = '', ...more] = line
      .split(line.includes('\t') ? '\t' : ';')
      .map((part) => part.trim())
    const fault = tag === '' ? 'it has no tag' : judge(tag)
    const facts = (['needs', 'transmitter', 'measures'] as const).map((name, column) =>
      factColumns[name].read(more[column] ?? ''),
    )
    const wrong =
      fault ?? tooLong('comment', comment) ?? facts.find((one) => typeof one === 'string')
    if (wrong) {
      faults.push(`Line ${i + 1}, ${tag || 'no tag'}: ${wrong}.`)
      continue
    }
    signals.push({
      tag,
      comment,
      facts: Object.fromEntries(
        Object.entries(Object.assign({}, ...facts) as object).filter(([, value]) => value !== null),
      ),
    })
  }
  return { signals, faults }
}

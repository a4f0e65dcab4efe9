import type { DataItem, ProcessDataLayout } from '../../catalog/model'
import { child, type XmlElement } from '../xml-records'
import type { Reading } from './reading'

/** Process data are at most 32 octets each way (IO-Link interface specification 1.1). */
const mostBits = 256

interface Direction {
  readonly bytes: number
  readonly items: DataItem[]
}

/** One way in which the process data are laid out, and the condition under which they are. */
export function readLayout(reading: Reading, element: XmlElement): ProcessDataLayout {
  const { attributes } = reading
  const condition = child(element, 'Condition')
  const [inputs, outputs] = (['ProcessDataIn', 'ProcessDataOut'] as const).map((name) =>
    readDirection(reading, child(element, name)),
  ) as [Direction, Direction]
  return {
    condition: condition
      ? {
          variable: condition.attributes['variableId'] ?? '',
          subindex: attributes.number(condition, 'subindex', [0, 255]),
          value: attributes.required(condition, 'value'),
        }
      : null,
    inputBytes: inputs.bytes,
    outputBytes: outputs.bytes,
    inputs: inputs.items,
    outputs: outputs.items,
  }
}

function readDirection(reading: Reading, element: XmlElement | undefined): Direction {
  const { attributes, datatypes, problems, texts } = reading
  if (!element) return { bytes: 0, items: [] }
  const bits = attributes.required(element, 'bitLength', [0, mostBits])
  const layout = datatypes.layoutOf(element, true)
  if (layout.bits > bits)
    problems.error(
      'iodd.length',
      `${element.name} has ${bits} bits; its datatype has ${layout.bits}.`,
      element,
    )
  const items = layout.fields.map((field): DataItem => {
    const item = {
      name: '',
      type: field.type,
      holds: field.holds,
      offsetBits: field.bitOffset,
      bits: field.bits,
      asBits: false,
      channels: [],
    }
    const name = (field.element && child(field.element, 'Name')) ?? child(element, 'Name')
    texts.want(item, 'name', name?.attributes['textId'], name ?? element)
    return item
  })
  return { bytes: Math.ceil(bits / 8), items }
}

/** The layout whose condition the variables' default values meet, else one without a
 *  condition. */
export function chosenLayout(reading: Reading): ProcessDataLayout | undefined {
  const { layouts, variables, problems } = reading
  const met = layouts.find(
    ({ condition }) =>
      condition &&
      variables.defaultValueOf(condition.variable, condition.subindex ?? 0) === condition.value,
  )
  const chosen = met ?? layouts.find(({ condition }) => condition === null)
  if (!chosen && layouts.length > 0)
    problems.warning(
      'iodd.condition',
      'No default value meets the condition of any process data; the first layout is shown.',
      { line: 1, column: 1 },
    )
  return chosen ?? layouts[0]
}

import type { Derived } from '../../derive/derive'
import type { ExportOptions } from '../options'
import type { Origin } from '../origin'
import { parameterBlocks, protocolBlocks, safetyDocument, terminalBlocks } from './cabinet'
import { circuitBlocks } from './circuits'
import { flowDocument, type Block } from './flow'
import { labelDocument } from './labels'
import { addressBlocks, cableBlocks, ioListBlocks, networkFindingBlocks } from './lists'
import type { Measure, PrintedDocument } from './marks'
import { switchCardBlocks } from './switch-cards'

interface Wanted {
  readonly derived: Derived
  readonly origin: Origin
  readonly options: ExportOptions
  readonly measure: Measure
}

const flowing =
  (title: string, blocksOf: (wanted: Wanted) => readonly Block[], isLandscape = false) =>
  (wanted: Wanted): PrintedDocument => {
    const { origin, options, measure } = wanted
    const layout = { title, origin, measure, paper: options.paper, isLandscape }
    return flowDocument(layout, blocksOf(wanted))
  }

/** A new document is one entry here, with its format in `formats.ts`. */
export const documents = {
  'io-list-pdf': flowing(
    'I/O list',
    ({ derived, options }) => ioListBlocks(derived, options),
    true,
  ),
  'addresses-pdf': flowing('Address plan', ({ derived, options }) =>
    addressBlocks(derived, options),
  ),
  'switches-pdf': flowing('Switch cards', ({ derived, options, measure }) =>
    switchCardBlocks(derived, options, measure),
  ),
  'terminals-pdf': flowing(
    'Terminal plan',
    ({ derived, options }) => terminalBlocks(derived, options),
    true,
  ),
  'circuits-pdf': flowing('Circuits', ({ derived, options, measure }) =>
    circuitBlocks(derived, options, measure),
  ),
  'parameters-pdf': flowing('Parameter sheets', ({ derived, options }) =>
    parameterBlocks(derived, options),
  ),
  'safety-pdf': flowing(
    'Fail-safe hand-over',
    ({ derived, origin }) => safetyDocument(derived, origin.safetySignature),
    true,
  ),
  'cables-pdf': flowing('Cables and networks', ({ derived }) => cableBlocks(derived), true),
  'findings-pdf': flowing('Network findings', ({ derived }) => networkFindingBlocks(derived), true),
  'labels-pdf': ({ derived, options, origin, measure }: Wanted) =>
    labelDocument(derived, options, origin, measure),
  'protocol-pdf': flowing(
    'Check before start-up',
    ({ derived, options }) => protocolBlocks(derived, options),
    true,
  ),
} as const satisfies Record<string, (wanted: Wanted) => PrintedDocument>

export type DocumentName = keyof typeof documents
export const documentNames = Object.keys(documents) as [DocumentName, ...DocumentName[]]

/** A document of a plan, laid out with the widths of the fonts it will be drawn in. */
export function printDocument(name: DocumentName, wanted: Wanted): PrintedDocument {
  return documents[name](wanted)
}

export {
  faces,
  inks,
  type Face,
  type Mark,
  type Measure,
  type Page,
  type PrintedDocument,
} from './marks'

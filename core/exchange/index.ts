export { readArchive, writeArchive } from './archive'
export { readCells, writeCells } from './cell-text'
export { exportFileName, writeExport, type ExportInput } from './exports'
export {
  channelsOfJob,
  exportFormats,
  exportNames,
  type ExportFormat,
  type ExportName,
} from './formats'
export {
  channelsOfStation,
  ioColumns,
  ioList,
  listChannels,
  type IoRow,
  type ListedChannel,
  type StationChannel,
} from './io-list'
export {
  projectFile,
  projectFileVersion,
  readProjectFile,
  writeProjectFile,
  type FileName,
  type ProjectFile,
} from './project-file'
export { newPlan, runCommandScript } from './command-script'
export {
  compareList,
  guessMapping,
  listFields,
  takeList,
  type ListComparison,
  type ListDifference,
  type ListField,
  type Mapping,
} from './list-import'
export {
  readLayoutTable,
  readOffset,
  wordOffset,
  writeLayoutTable,
  type LayoutTable,
} from './layout-table'
export { wordChannelPlace, type ListOrder } from './list-order'
export { readList, type ListTable } from './list-reading'
export { readReportedTable } from './reported-table'
export { linkColumns, readLinkTable, writeLinkTable, type LinkTableRow } from './link-table'
export type { PastedFault } from './pasted-table'

export { projectTextOf, readArchive, writeArchive } from './archive'
export { readCells, writeCells } from './cell-text'
export { writePackage, type PackageFile, type Release } from './package'
export { exportFileName, writeExport, type ExportInput } from './exports'
export type { ChangeEntry } from './changes'
export {
  CannotExport,
  encodings,
  exportOptions,
  paperSizes,
  separators,
  usualOptions,
  type ExportOptions,
} from './options'
export { originOf, wordsOfOrigin, type Origin } from './origin'
export {
  channelsOfJob,
  exportFormats,
  exportGroups,
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
export { projectList, readList } from './list-reading'
export type { ListTable } from './list-table'
export { readReportedTable } from './reported-table'
export { linkColumns, readLinkTable, writeLinkTable, type LinkTableRow } from './link-table'
export type { PastedFault } from './pasted-table'
export {
  documentNames,
  inks,
  printDocument,
  type DocumentName,
  type Face,
  type Mark as PageMark,
  type Measure,
  type Page,
  type PrintedDocument,
} from './documents'

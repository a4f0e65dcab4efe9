export { isArchive, readArchive, writeArchive, type ArchivedFile } from './archive'
export { exportFileName, exportFormats, type ExportInput, type ExportName } from './exports'
export { ioColumns, ioList, kindOfChannel, listChannels, type IoRow, type ListedChannel } from './io-list'
export { projectFile, projectFileVersion, readProjectFile, wordIssue, writeProjectFile, type FileName, type ProjectFile } from './project-file'

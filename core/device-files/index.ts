export { decodeText } from './decode-text'
export { fileEndings, maxFileBytes, readDeviceFile, readerVersion, type ReadResult } from './read'
export { isZip, unpack, type NamedBytes } from './package'
export { catalogOf as catalogOfSheet, registersOf } from './sheet/build'
export {
  deviceSheet,
  sheetFile,
  sheetTypes,
  octetTypes,
  unusedType,
  type DeviceSheet,
  type SheetType,
  type WrittenSheet,
} from './sheet/schema'
export { tokenizeXml } from './xml-tokenizer'

export { fileEndings, maxFileBytes, readDeviceFile, type ReadResult } from './read'
export { parseValueList, formatValueList, inRanges, type ValueRange } from './value-list'
export { tokenizeXml } from './xml-tokenizer'

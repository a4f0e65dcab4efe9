export { numbered, oneOr, plural } from './plural'
export type * from './problem'
export { wordIssue } from './schema-words'
export { fromHex, hexOctet, parseObjectIndex, parseOctets, toHex } from './hex'
export {
  commonMeanings,
  meaningOf,
  meanings,
  meaningWords,
  type Meaning,
  type MeaningRule,
} from './meaning'
export { readRange, sameRange, wordRange, type ElectricalRange } from './electrical-range'
export { parseValueList, formatValueList, inRanges, type ValueRange } from './value-list'
export { portModeOf, portModes, portModeWords, portNumberIn, type PortMode } from './port'
export { placeOf, placeText, type DataPlace } from './data-place'
export {
  blockBits,
  dataField,
  dataLayout,
  fieldTypes,
  readFieldType,
  wordFieldType,
  type DataField,
  type DataLayout,
  type DataLayouts,
  type FieldType,
} from './data-layout'
export { dataContents, type DataContent, type Direction } from './direction'
export { turnNames, type Turn } from './byte-order'
export { numberKindOf, type DataKind, type NumberKind } from './data-kind'
export { modbusTableNames, modbusTables, wordTable, type ModbusTable } from './modbus-table'
export { switchBank, switchStyles, type SwitchBank, type SwitchStyle } from './switch-bank'
export { rawTypes, typeBounds, type RawFormat, type RawType } from './raw-format'
export { wordSerialLine, type SerialLine } from './serial-line'
export { reading } from './octets'

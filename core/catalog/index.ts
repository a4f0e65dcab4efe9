export type * from './model'
export { findDevice, findModule, recordsOf, type Catalog } from './catalog'
export { typeName } from './cip-types'
export { compareFiles, type Difference } from './compare'
export { gapBefore, wordAlignment, type Alignment } from './alignment'
export {
  dataContents,
  layoutOf,
  type DataContent,
  type Channel,
  type ChannelKind,
  type DataBlock,
  type Direction,
  type Layout,
} from './layout'
export { neededInside } from './inside'
export { itemsOf, packFile, unpackFile, type PackedFile, type ShelfItem } from './pack'
export { dataBelow, type DeviceData } from './placed'
export { supplemented } from './supplement'
export { summarise, type FileSummary, type SummarisedDevice } from './summary'
export { formatNames, kindOfChannel, protocolNames, wordBytes, wordChannels } from './words'

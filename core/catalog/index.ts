export type * from './model'
export { findDevice, findModule, recordsOf, type Catalog } from './catalog'
export { typeName } from './cip-types'
export { compareFiles, type Difference } from './compare'
export { gapBefore, wordAlignment, type Alignment } from './alignment'
export { layoutOf, type Channel, type ChannelKind, type DataBlock, type Layout } from './layout'
export { neededInside } from './inside'
export { itemsOf, packFile, unpackFile, type PackedFile, type ShelfItem } from './pack'
export { blocksOfHead, dataBelow, portKey, submodulesOf, type DeviceData } from './placed'
export { catalogFor } from './plan-catalog'
export {
  bytesOf,
  describedBlock,
  describedItems,
  faultsOfFields,
  withFields,
  wordFieldFault,
  type DataOfBlock,
  type FieldFault,
} from './own-data'
export { supplemented } from './supplement'
export { summarise, type FileSummary, type SummarisedDevice } from './summary'
export { formatNames, kindOfChannel, wordBytes, wordChannels } from './words'

export type * from './model'
export { findDevice, findModule, type Catalog } from './catalog'
export { layoutOf, type Channel, type ChannelKind, type DataBlock, type Direction, type Layout } from './layout'
export { kindOfChannel, wordBytes, wordChannels } from './words'

export {
  channelAddress,
  derive,
  notationOf,
  placeInImage,
  placeKey,
  signalOn,
  type DerivedController,
  type Derived,
  type DerivedModule,
  type DerivedNetwork,
  type PlacedBlock,
  type DerivedStation,
} from './derive'
export { imageList, type ImageItem } from './image-list'
export * from './frames'
export * from './memory-map'
export * from './device-places'
export { telegramList } from './telegrams'
export { recordsOnWire } from './wire-records'

export {
  addressOf,
  allocate,
  areaFor,
  bitAddressOf,
  bitsTaken,
  blocksOf,
  findFreeByte,
  ImageSpace,
  isFixed,
  packsBits,
  type Range,
} from './image'
export { spaceFor } from './occupancy'
export { tightOrder, type Piece } from './tight'

export { channelAddress, derive, placeInImage, placeKey, signalOn, type ControllerView, type Derived, type ModuleView, type NetworkView, type PlacedBlock, type StationView } from './derive'
export { imageList, type ImageItem } from './image-list'

/** Frames and telegrams of the protocol, for whoever answers them. */
export * from './frames'

/** Frames and telegrams of the protocol, for whoever answers them. */
export * from './encapsulation'
export * from './messages'

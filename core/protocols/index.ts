export * from './network-kinds'

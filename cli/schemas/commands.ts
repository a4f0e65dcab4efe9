export { command as schema } from '@kataxis/core'

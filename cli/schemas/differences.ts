export { differencesSchema as schema } from '@kataxis/core'

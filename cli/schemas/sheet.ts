export { sheetFile as schema } from '@kataxis/core'

export { projectFile as schema } from '@kataxis/core'

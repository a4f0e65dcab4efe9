import { command, projectFile } from '@kataxis/core'
import { z } from 'zod'
import { print } from '../print'

export function schema(options: { commands?: boolean }): number {
  print(z.toJSONSchema(options.commands ? command : projectFile, { io: 'input' }))
  return 0
}

import { command, projectFile, sheetFile } from '@kataxis/core'
import { z } from 'zod'
import { print } from '../print'

export function schema(options: { commands?: boolean; sheet?: boolean }): number {
  print(
    z.toJSONSchema(options.commands ? command : options.sheet ? sheetFile : projectFile, {
      io: 'input',
    }),
  )
  return 0
}

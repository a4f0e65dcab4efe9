import { z } from 'zod'
import { print } from '../print'

/** Each is loaded alone, since building all of them takes longer than printing one. */
const schemas = {
  commands: () => import('../schemas/commands'),
  sheet: () => import('../schemas/sheet'),
  project: () => import('../schemas/project'),
}

export async function schema(options: { commands?: boolean; sheet?: boolean }): Promise<number> {
  const wanted = options.commands ? 'commands' : options.sheet ? 'sheet' : 'project'
  print(z.toJSONSchema((await schemas[wanted]()).schema, { io: 'input' }))
  return 0
}

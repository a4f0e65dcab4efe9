import { z } from 'zod'
import { textOf } from '../print'

/** Each is loaded alone, since building all of them takes longer than printing one. */
const schemas = {
  project: () => import('../schemas/project'),
  commands: () => import('../schemas/commands'),
  sheet: () => import('../schemas/sheet'),
  differences: () => import('../schemas/differences'),
}
type SchemaName = keyof typeof schemas
const schemaNames = Object.keys(schemas) as SchemaName[]

const schemaText = async (name: SchemaName) =>
  textOf(z.toJSONSchema((await schemas[name]()).schema, { io: 'input' }))

export async function schema(options: {
  commands?: boolean
  sheet?: boolean
  differences?: boolean
}): Promise<number> {
  const wanted = schemaNames.find((name) => name !== 'project' && options[name]) ?? 'project'
  process.stdout.write(await schemaText(wanted))
  return 0
}

/** What calls of this command print, by their arguments: the sources alone decide it. */
export function printedSchemas(): Promise<(readonly [args: string, text: string])[]> {
  return Promise.all(
    schemaNames.map(
      async (name) =>
        [name === 'project' ? 'schema' : `schema --${name}`, await schemaText(name)] as const,
    ),
  )
}

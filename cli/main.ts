import { Command, CommanderError, Option } from 'commander'
import { CannotDo } from './cannot-do'

/** Runs one call of `npx kataxis` and gives its exit code: 0 fine, 1 done with blockers or errors,
 *  2 could not be done. */
export async function main(argv: readonly string[]): Promise<number> {
  let exitCode = 0
  // Each command is loaded when it is asked for.
  const run =
    <A extends unknown[]>(load: () => Promise<(...args: A) => number | Promise<number>>) =>
    async (...args: A) => {
      exitCode = await (await load())(...args)
    }
  const program = new Command('kataxis')
    .description('Plans distributed I/O from device description files.')
    .exitOverride()
    .configureOutput({ writeErr: () => undefined })
  program
    .command('read')
    .argument('<file...>')
    .option('--language <tag>', 'of the texts, where the file has it')
    .description('the content of description files as JSON')
    .action(run(async () => (await import('./commands/read')).read))
  program
    .command('encode')
    .argument('<file>')
    .argument('<key>', 'a device, module or submodule of the file')
    .option('--record <index>')
    .addOption(repeated('--set <parameter=value>', 'one value'))
    .description('parameter records as bytes, with other values than the defaults')
    .action(run(async () => (await import('./commands/encode')).encode))
  program
    .command('apply')
    .argument('<plan>', 'project file or "new"')
    .argument('<commands>', 'NDJSON, one command a line')
    .addOption(files())
    .requiredOption('--out <file>')
    .action(run(async () => (await import('./commands/apply')).apply))
  program
    .command('check')
    .argument('<plan>')
    .addOption(files())
    .description('the findings of a plan')
    .action(run(async () => (await import('./commands/check')).check))
  program
    .command('image')
    .argument('<plan>')
    .addOption(files())
    .option('--notation <name>', '', 'iec')
    .description('every channel in the controllers’ images')
    .action(run(async () => (await import('./commands/image')).image))
  program
    .command('telegrams')
    .argument('<plan>')
    .addOption(files())
    .description(
      'what goes over the wire: Set_Prm and Chk_Cfg, Modbus requests, assemblies, frames, the logical image',
    )
    .action(run(async () => (await import('./commands/telegrams')).telegrams))
  program
    .command('networks')
    .argument('<plan>')
    .addOption(files())
    .addOption(repeated('--cut <link>', 'what if this link is cut'))
    .addOption(repeated('--lose <station>', 'what if this station or controller is lost'))
    .addOption(repeated('--lose-supply <supply>', 'what if this supply is lost'))
    .description('links, loads, times, segments, rings and supplies, and what a failure costs')
    .action(run(async () => (await import('./commands/networks')).networks))
  program
    .command('export')
    .argument('[plan]')
    .option('--as <format>')
    .option('--out <file>')
    .option('--list', 'the formats there are')
    .addOption(
      repeated('--option <name=value>', 'what a format can be asked for, e.g. separator=;'),
    )
    .addOption(files())
    .action(run(async () => (await import('./commands/export')).exportPlan))
  program
    .command('import')
    .argument('<file>', 'list, variables, CAEX or project')
    .requiredOption('--into <plan>')
    .option('--out <file>')
    .option('--dry-run', 'only say what would change')
    .option('--keep', 'keep signals that the file does not have')
    .addOption(files())
    .description('takes the signals of a file over into a plan')
    .action(run(async () => (await import('./commands/import')).importFile))
  program
    .command('rehearse')
    .argument('<plan>')
    .addOption(files())
    .option('--differences <file>', 'what is otherwise than planned, as JSON')
    .option('--until <step>', 'scan, match, assign, compare, start or check', 'check')
    .option('--capture <file>', 'all frames as a capture file')
    .option('--serve', 'then answer over real sockets on the loopback, until told to stop')
    .option('--ports <file>', 'where --serve writes its ports')
    .description('brings the plan onto a simulated plant, step by step')
    .action(run(async () => (await import('./commands/rehearse')).rehearse))
  program
    .command('schema')
    .option('--commands')
    .option('--sheet')
    .option('--differences')
    .description('JSON Schema of the project file, the commands, device sheets or differences')
    .action(run(async () => (await import('./commands/schema')).schema))

  try {
    await program.parseAsync(argv)
    return exitCode
  } catch (error) {
    if (error instanceof CommanderError) {
      if (error.exitCode === 0) return 0
      return fail(error.message.replace(/^error: /, ''))
    }
    if (error instanceof CannotDo) return fail(error.message)
    return fail(`Kataxis could not go on: ${(error as Error).message}`)
  }
}

function repeated(flags: string, description: string): Option {
  return new Option(flags, `${description}; repeat it for more`)
    .argParser((value: string, all: string[]) => [...all, value])
    .default([])
}

const files = () => repeated('--files <dir>', 'folder of description files')

function fail(sentence: string): number {
  process.stderr.write(`${sentence.split('\n')[0]}\n`)
  return 2
}

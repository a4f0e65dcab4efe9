import type { Command, SingleCommand } from './commands'

/** A command with the sender's name wherever it says who entered or released something, whatever
 *  stood there. */
export function signedBy(command: Command, by: string): Command {
  return command.type === 'batch'
    ? { ...command, commands: command.commands.map((single) => signed(single, by)) }
    : signed(command, by)
}

function signed(command: SingleCommand, by: string): SingleCommand {
  if ('by' in command) return { ...command, by }
  if (command.type === 'setProject' && command.set.safetyRelease)
    return {
      ...command,
      set: { ...command.set, safetyRelease: { ...command.set.safetyRelease, by } },
    }
  return command
}

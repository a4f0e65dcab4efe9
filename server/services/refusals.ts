import { numbered, wordFault, type PlanFault } from '@kataxis/core'
import { Refused, type Reason } from './refused'

interface Row {
  readonly reason: Reason
  /** Where several sentences share one. */
  readonly code?: string
  readonly say: (facts: never) => string
}

/** What the server itself refuses, beside what the plan refuses: reason and sentence by code. */
const rows = {
  'session.missing': {
    reason: 'signedOut',
    say: () => 'You are not signed in, or no longer.',
  },
  'session.gone': {
    reason: 'signedOut',
    code: 'session.missing',
    say: () => 'Your account is no longer there.',
  },
  'session.wrong': { reason: 'signedOut', say: () => 'Name or password is wrong.' },
  'session.word': {
    reason: 'forbidden',
    say: () => 'The request does not carry the word of your session; load the page again.',
  },
  'session.slow': {
    reason: 'tooOften',
    say: (seconds: number) => `Too many tries; wait ${seconds} s.`,
  },
  'password.wrong': { reason: 'impossible', say: () => 'The present password is wrong.' },
  'password.short': {
    reason: 'impossible',
    say: ({ has, needs }: { has: number; needs: number }) =>
      `The password has ${numbered(has, 'character')}; at least ${needs} are needed.`,
  },
  'password.weak': {
    reason: 'impossible',
    say: () => 'The password is too easily guessed; use a longer or less usual one.',
  },
  'user.exists': {
    reason: 'conflict',
    say: ({ name, fullName }: { name: string; fullName: string }) =>
      `There already is an account "${name}" of ${fullName}.`,
  },
  'owner.exists': {
    reason: 'conflict',
    say: () => 'This instance has an owner already; sign in.',
  },
  'owner.last': {
    reason: 'conflict',
    say: () => 'This is the last owner; give another account that role first.',
  },
  'role.safety': {
    reason: 'forbidden',
    say: () =>
      'This touches a fail-safe module: its place, addresses, parameters or the tags on its channels; only a safety engineer or an owner may.',
  },

  'body.utf8': { reason: 'invalid', say: () => 'The body is not UTF-8.' },
  'body.json': { reason: 'invalid', say: () => 'The body is not JSON.' },
  'request.invalid': {
    reason: 'invalid',
    say: ({ where, why }: { where: string; why: string }) =>
      `The ${where} is not as it should be: ${why}`,
  },
  'request.character': {
    reason: 'invalid',
    code: 'request.invalid',
    say: (where: string) =>
      `${where}: a character in it cannot be kept (NUL or half of a surrogate pair).`,
  },
  'request.fieldName': {
    reason: 'invalid',
    code: 'request.invalid',
    say: (where: string) => `${where}: the name of a field holds a character that cannot be kept.`,
  },
  'request.tooLong': {
    reason: 'impossible',
    say: (seconds: number) =>
      `That takes longer than ${seconds} s and was stopped; nothing was changed. Do it in parts.`,
  },

  'server.busy': {
    reason: 'away',
    say: () => 'The server has too much to do at the moment; nothing was changed. Try again.',
  },
  'server.busyReading': {
    reason: 'away',
    code: 'server.busy',
    say: () => 'Too many description files are waiting to be read; try again.',
  },
  'server.busySigningIn': {
    reason: 'away',
    code: 'server.busy',
    say: () => 'Too many people sign in at this moment; try again.',
  },
  'server.busyListening': {
    reason: 'away',
    code: 'server.busy',
    say: () => 'The server has as many listeners as it can have; try again later.',
  },
  'streams.many': {
    reason: 'tooOften',
    say: (open: number) =>
      `This account has ${numbered(open, 'window')} open that listen for changes; close some.`,
  },
  'presence.many': {
    reason: 'tooOften',
    say: () => 'This account says where it is more often than anybody looks.',
  },
  'database.away': { reason: 'away', say: () => 'The database does not answer.' },

  'project.exists': {
    reason: 'conflict',
    say: (id: string) => `There already is a project "${id}".`,
  },
  'project.members': {
    reason: 'forbidden',
    say: (name: string) =>
      `${name} is open to its members only, and you are none of them; an owner can add you.`,
  },
  'project.archived': {
    reason: 'conflict',
    say: () =>
      'This project is archived and can only be looked at; restore it on the projects page to change it.',
  },
  'project.deleted': {
    reason: 'missing',
    say: (goneAt: Date) =>
      `This project was deleted; it can be restored on the projects page until ${goneAt.toISOString().slice(0, 10)}.`,
  },
  'members.twice': {
    reason: 'impossible',
    say: () => 'A person stands among the members twice.',
  },
  'export.impossible': {
    reason: 'impossible',
    say: (sentence: string) => sentence,
  },
  'version.exists': {
    reason: 'conflict',
    say: (name: string) => `There already is a version "${name}".`,
  },
  'epoch.other': {
    reason: 'conflict',
    say: () =>
      'The database was restored from a backup since your plan was loaded; nothing was changed.',
  },
  'plan.damaged': {
    reason: 'conflict',
    say: (fault: PlanFault) =>
      `The project is damaged and can only be read: ${wordFault(fault)} Repair it first.`,
  },
  'plan.sound': {
    reason: 'conflict',
    say: () => 'There is nothing to repair; the project is in order.',
  },
  'plan.old': {
    reason: 'conflict',
    say: (missed: number) =>
      `Others made ${numbered(missed, 'change')} since your plan was loaded; look at its present state and do it again.`,
  },
  'history.same': { reason: 'conflict', say: () => 'The plan is already as it was then.' },
  'history.missing': {
    reason: 'missing',
    say: ({ from, to }: { from: number; to: number }) =>
      `The history does not reach from revision ${from} to ${to}.`,
  },
  'history.large': {
    reason: 'tooLarge',
    say: ({ from, to, rows, most }: { from: number; to: number; rows: number; most: number }) =>
      `Between revision ${from} and ${to} lie ${rows} changed rows; at most ${most} are compared. Choose revisions that are nearer to each other.`,
  },

  'job.open': {
    reason: 'conflict',
    say: () => 'The job is not finished; cancel it first.',
  },
  'jobs.many': {
    reason: 'tooOften',
    say: (open: number) =>
      `${numbered(open, 'job')} of yours are not finished yet; wait for one or cancel one.`,
  },
  'file.used': {
    reason: 'conflict',
    say: ({ where, more }: { where: string; more: number }) =>
      `The file is used by ${where}${more > 0 ? ` and ${more} more` : ''}; it cannot go while it is.`,
  },
  'file.unreadable': { reason: 'impossible', say: (sentence: string) => sentence },
  'import.archive': { reason: 'impossible', say: (fault: string) => fault },
  'import.project': { reason: 'impossible', say: (fault: string) => fault },

  'difference.unknown': {
    reason: 'impossible',
    say: (fault: string) => fault,
  },
  'rehearsal.failSafe': {
    reason: 'forbidden',
    say: (why: string) => why,
  },
  'rehearsal.ended': {
    reason: 'conflict',
    say: () => 'This rehearsal has ended. Begin another one.',
  },
} as const satisfies Record<string, Row>

type Rows = typeof rows
type Facts<C extends keyof Rows> = Parameters<Rows[C]['say']>

/** A refusal of the server's own by its code and facts. */
export function refusal<C extends keyof Rows>(code: C, ...facts: Facts<C>): Refused {
  return refusalWith(code, {}, ...facts)
}

/** The same with what travels beside the sentence. */
export function refusalWith<C extends keyof Rows>(
  code: C,
  extra: Refused['extra'],
  ...facts: Facts<C>
): Refused {
  const row: Row = rows[code]
  const say = row.say as (...facts: unknown[]) => string
  return new Refused(row.reason, row.code ?? code, say(...facts), extra)
}

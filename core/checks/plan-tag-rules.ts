import { legalTag, tagFault, tagIdentity } from '../tags/identifier'
import { atModule, nameOf, planRule, type FindingPlace, type Fix } from './finding'
import { freeTag } from './free'
import { type TagUser } from './indexes'

/** Tags against each other, and signals without a channel. */
export const planTagRules = [
  planRule<{ tag: string; others: string[]; user: TagUser }>({
    code: 'tag.duplicate',
    severity: 'blocker',
    find: function* ({ indexes }) {
      for (const identity of indexes.tags.shared) {
        const [first, ...later] = indexes.tags
          .usersOf(identity)
          .sort((a, b) => (a.signal.id < b.signal.id ? -1 : 1))
        for (const user of later)
          yield {
            at: atSignal(user),
            facts: { tag: user.signal.tag, others: [atSignal(first!).words], user },
          }
      }
    },
    say: ({ tag, others }, at) =>
      `The tag ${tag} at ${at.words} already stands at ${others.join(' and ')}; tags are unique without regard to case.`,
    fixes: ({ tag }, { id }, { indexes }, { plan: { project } }) => {
      const free = freeTag(tag, (one) => indexes.tags.has(tagIdentity(one)), project)
      const users = indexes.tags.usersOf(tagIdentity(tag)).map(({ signal }) => signal)
      const [here, other] = [
        users.find((signal) => signal.id === id),
        users.find((signal) => signal.id !== id),
      ]
      return [
        ...(free === null
          ? []
          : [
              {
                label: `Call it ${free}`,
                command: { type: 'editSignals', edits: [{ id, tag: free }] },
              } satisfies Fix,
            ]),
        ...(here?.place && other
          ? [
              {
                label: `Move ${other.tag} here`,
                command: {
                  type: 'batch',
                  label: `Move ${other.tag} here`,
                  commands: [
                    { type: 'removeSignals', ids: [id] },
                    { type: 'editSignals', edits: [{ id: other.id, place: here.place }] },
                  ],
                },
              } satisfies Fix,
            ]
          : []),
      ]
    },
  }),

  planRule<{ tag: string; fault: string; legal: string }>({
    code: 'tag.illegal',
    severity: 'blocker',
    find: function* ({ derived: { plan } }) {
      for (const { id, tag } of Object.values(plan.unplaced)) {
        const fault = tag === '' ? null : tagFault(tag, plan.project)
        if (fault)
          yield {
            at: { kind: 'signal', id, words: tag },
            facts: { tag, fault, legal: legalTag(tag, plan.project) },
          }
      }
    },
    say: ({ tag, fault }) =>
      `The tag "${tag}", which has no channel yet, is no IEC 61131-3 identifier: ${fault}.`,
    fixes: ({ legal }, { id }, { indexes }, { plan: { project } }) => {
      const free =
        legal === '' ? null : freeTag(legal, (one) => indexes.tags.has(tagIdentity(one)), project)
      return free === null
        ? []
        : [
            {
              label: `Call it ${free}`,
              command: { type: 'editSignals', edits: [{ id, tag: free }] },
            },
          ]
    },
  }),

  planRule<{ tag: string }>({
    code: 'signal.unplaced',
    severity: 'warning',
    find: function* ({ derived: { plan } }) {
      for (const signal of Object.values(plan.unplaced)) {
        yield {
          at: { kind: 'signal', id: signal.id, words: nameOf(signal.tag) },
          facts: { tag: signal.tag },
        }
      }
    },
    say: ({ tag }) =>
      `The signal ${nameOf(tag)} has no channel; put it on one in the Ledger or remove it.`,
    fixes: (_, { id }) => [
      { label: 'Remove the signal', command: { type: 'removeSignals', ids: [id] } },
    ],
  }),
]

function atSignal({ signal, view }: TagUser): FindingPlace {
  const module = view?.modules.find(({ id }) => id === signal.place?.moduleId)
  if (!view || !module) return { kind: 'signal', id: signal.id, words: 'no channel' }
  return { ...atModule(view, module), kind: 'signal', id: signal.id }
}

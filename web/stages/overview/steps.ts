import type { StepKey } from '@kataxis/core'

/** What each step of a project is called, and the stage that goes on with it. */
export const stepWords: Readonly<
  Record<StepKey, { readonly words: string; readonly stage: string }>
> = {
  files: { words: 'Add description files', stage: 'shelf' },
  place: { words: 'Place stations and modules', stage: 'board' },
  identities: { words: 'Assign names, addresses and numbers', stage: 'board' },
  parameters: { words: 'Set parameters', stage: 'board' },
  addresses: { words: 'Lay out the memory', stage: 'memory' },
  ranges: { words: 'Check signal ranges and circuits', stage: 'range' },
  names: { words: 'Name the signals', stage: 'ledger' },
  networks: { words: 'Check the networks', stage: 'networks' },
  rehearse: { words: 'Rehearse commissioning', stage: 'rehearsal' },
  handover: { words: 'Hand over', stage: 'handover' },
}

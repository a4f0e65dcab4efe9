import type { SiteDifference } from '@kataxis/core'

type Words = {
  [K in SiteDifference['kind']]: (one: Extract<SiteDifference, { kind: K }>) => string
}

const words: Words = {
  factoryNew: ({ station }) => `${station} was factory-new`,
  swapped: ({ station, slots }) => `Slots ${slots[0]} and ${slots[1]} of ${station} were swapped`,
  wrongModule: ({ station, slot }) => `Slot ${slot} of ${station} held another module`,
  missingModule: ({ station, slot }) => `Slot ${slot} of ${station} was empty`,
  surplusModule: ({ station, slot }) => `Slot ${slot} of ${station} held a module too many`,
  duplicateName: ({ station, as }) => `${station} had the name of ${as}`,
  wrongType: ({ station }) => `${station} was another type of device`,
  wrongFirmware: ({ station }) => `${station} had another firmware`,
  missing: ({ station }) => `${station} did not answer at all`,
  wireBreak: ({ tag }) => `The wire of ${tag} was broken`,
  shortCircuit: ({ tag }) => `The wire of ${tag} was shorted`,
  cut: ({ link }) => `The cable ${link} was cut`,
  stopped: ({ station }) => `${station} was in stop`,
  slow: ({ station, ms }) => `${station} took ${ms} ms to answer`,
  switches: ({ station, value }) => `The switches of ${station} made ${value}`,
  crossed: ({ tags }) => `The wires of ${tags[0]} and ${tags[1]} were crossed`,
  scaled: ({ tag, factor }) => `${tag} gave ${factor} times what it should`,
}

/** A difference as it is told at the end. */
export function wordDifference(one: SiteDifference): string {
  return (words[one.kind] as (one: SiteDifference) => string)(one)
}

import type { RealModule } from './wire'

/** Modules as text, for devices whose protocols leave it to the maker how they tell what stands in
 *  them: `slot=ident;`. Invented here, since no standard says it. */
export function moduleList(modules: readonly RealModule[]): string {
  return modules
    .filter(({ slot }) => slot > 0)
    .map(({ slot, ident }) => `${slot}=${encodeURIComponent(ident)};`)
    .join('')
}

export function readModuleList(text: string): RealModule[] {
  return text.split(';').flatMap((entry) => {
    const [, slot, ident] = /^(\d+)=(.*)$/.exec(entry) ?? []
    return slot === undefined
      ? []
      : [{ slot: Number(slot), ident: decoded(ident!), submodules: [] }]
  })
}

function decoded(text: string): string {
  try {
    return decodeURIComponent(text)
  } catch {
    return text
  }
}

/** What somebody may do. `commission`: steps on the simulated wire; `own`: accounts. */
export type Right = 'read' | 'plan' | 'safety' | 'commission' | 'own'

interface Role {
  readonly name: string
  readonly says: string
  readonly rights: readonly Right[]
}

/** Roles of accounts. Only who has `safety` changes anything of a fail-safe module, its address or
 *  parameters (see `bearsOnSafety`). */
export const roles = {
  viewer: { name: 'Viewer', says: 'looks and exports', rights: ['read'] },
  planner: {
    name: 'Planner',
    says: 'plans all but what is fail-safe',
    rights: ['read', 'plan', 'commission'],
  },
  safety: {
    name: 'Safety engineer',
    says: 'plans, also what is fail-safe',
    rights: ['read', 'plan', 'safety', 'commission'],
  },
  commissioner: {
    name: 'Commissioner',
    says: 'looks and rehearses',
    rights: ['read', 'commission'],
  },
  owner: {
    name: 'Owner',
    says: 'may everything, and keeps the accounts',
    rights: ['read', 'plan', 'safety', 'commission', 'own'],
  },
} as const satisfies Record<string, Role>

export type RoleName = keyof typeof roles
export const roleNames = Object.keys(roles) as RoleName[]

export function may(role: RoleName, right: Right): boolean {
  return (roles[role].rights as readonly Right[]).includes(right)
}

const rightWords: Readonly<Record<Right, string>> = {
  read: 'looks at plans',
  plan: 'changes plans',
  safety: 'changes what is fail-safe',
  commission: 'takes steps in the rehearsal',
  own: 'keeps accounts',
}

/** Why a role may not do something, as a sentence. */
export function wordMissingRight(role: RoleName, right: Right): string {
  const others = roleNames.filter((name) => may(name, right)).map((name) => roles[name].name)
  return `Your role is ${roles[role].name}; who ${rightWords[right]} is ${others.length > 1 ? `${others.slice(0, -1).join(', ')} or ${others.at(-1)}` : others[0]}.`
}

import type { RoleName } from '@kataxis/core'
import type { Users } from './users'

interface DemoAccount {
  readonly name: string
  readonly fullName: string
  readonly role: RoleName
}

/** One invented account a role; their password stands on the sign-in page of the demo. */
export const demoAccounts: { readonly password: string; readonly accounts: DemoAccount[] } = {
  password: 'skarvholm',
  accounts: [
    { name: 'planner', fullName: 'Pia Norr', role: 'planner' },
    { name: 'safety', fullName: 'Stig Vang', role: 'safety' },
    { name: 'commissioner', fullName: 'Cleo Marsh', role: 'commissioner' },
    { name: 'viewer', fullName: 'Vida Ekman', role: 'viewer' },
    { name: 'owner', fullName: 'Odd Brekke', role: 'owner' },
  ],
}

/** Makes them where there is no account at all. */
export async function loadDemoAccounts(users: Users): Promise<void> {
  if (await users.hasAny()) return
  for (const account of demoAccounts.accounts)
    await users.create({ ...account, password: demoAccounts.password })
}

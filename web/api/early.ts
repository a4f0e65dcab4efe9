/** A plan as it came, and what that says. */
export interface ArrivedPlan<A> {
  readonly text: string
  readonly answer: A
}

/** Where `public/early.js` leaves what it asked for before this program was there. */
const place = globalThis as {
  kataxisEarly?: { readonly url: string; readonly arrived: Promise<ArrivedPlan<unknown> | null> }
}

/** What was asked for ahead at this address; once, since later the plan is another one. Null: it is
 *  still to be asked for. */
export async function takeEarly<A>(url: string): Promise<ArrivedPlan<A> | null> {
  const early = place.kataxisEarly
  delete place.kataxisEarly
  return early?.url === url ? ((await early.arrived) as ArrivedPlan<A> | null) : null
}

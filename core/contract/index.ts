import type { z } from 'zod'
import { accountContract } from './accounts'
import type { EndpointShape } from './endpoint'
import { fileContract } from './files'
import { jobContract } from './jobs'
import { liveContract } from './live'
import { projectContract } from './projects'
import { rehearsalContract } from './rehearsal'
import { releaseContract } from './releases'

export { projectStates, type EndpointShape, type ProjectState } from './endpoint'
export { jobStates, type JobState, type JobView } from './jobs'
export type { ListedProject } from './projects'
export { releaseWish, type ReleaseView } from './releases'
export type { Presence } from './live'

/** Every way into the program, by name. */
export const contract = {
  ...accountContract,
  ...liveContract,
  ...projectContract,
  ...fileContract,
  ...jobContract,
  ...rehearsalContract,
  ...releaseContract,
}
export type Contract = typeof contract
export type EndpointName = keyof Contract

type Part<S, K extends string> = S extends Readonly<Record<K, z.ZodType>> ? S[K] : never

/** What a sender gives: only the parts that the endpoint has. */
export type InputOf<S extends EndpointShape> = {
  readonly [
    K in 'params' | 'query' | 'body' as S extends Readonly<Record<K, z.ZodType>> ? K : never
  ]: z.input<Part<S, K>>
} & (S extends { readonly isRaw: true } ? { readonly raw: Blob } : unknown)

/** An endpoint that answers with JSON. */
export interface Answering<A> {
  readonly answer: z.ZodType<A>
}
/** What comes back. */
export type AnswerOf<S> = S extends Answering<infer A> ? A : never

/** An answer if it is what the contract says; null if it is not. */
export function answerOf<A>({ answer }: Answering<A>, json: unknown): A | null {
  const read = answer.safeParse(json)
  return read.success ? read.data : null
}

/** The address of an endpoint with its parameters and its query. */
export function urlOf(
  { path }: Pick<EndpointShape, 'path'>,
  params: Readonly<Record<string, string>> = {},
  query: Readonly<Record<string, string | number | undefined>> = {},
): string {
  const filled = path.replace(/\{(\w+)\}/g, (_, name: string) =>
    encodeURIComponent(params[name] ?? ''),
  )
  const asked = Object.entries(query).flatMap(([name, value]): [string, string][] =>
    value === undefined ? [] : [[name, String(value)]],
  )
  return asked.length === 0 ? filled : `${filled}?${new URLSearchParams(asked).toString()}`
}

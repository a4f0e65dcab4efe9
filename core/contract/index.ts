import type { z } from 'zod'
import { accountContract } from './accounts'
import type { EndpointShape } from './endpoint'
import { fileContract } from './files'
import { jobContract } from './jobs'
import { liveContract } from './live'
import { projectContract } from './projects'
import { rehearsalContract } from './rehearsal'

export type { EndpointShape } from './endpoint'
export { jobStates, type JobState, type JobView } from './jobs'
export type { Presence } from './live'

/** Every way into the program, by name. */
export const contract = {
  ...accountContract,
  ...liveContract,
  ...projectContract,
  ...fileContract,
  ...jobContract,
  ...rehearsalContract,
}
export type Contract = typeof contract
export type EndpointName = keyof Contract

type Part<S, K extends string> = S extends Readonly<Record<K, z.ZodType>> ? S[K] : never

/** What a sender gives: only the parts that the endpoint has. */
export type InputOf<N extends EndpointName> = {
  readonly [
    K in 'params' | 'query' | 'body' as Contract[N] extends Readonly<Record<K, z.ZodType>>
      ? K
      : never
  ]: z.input<Part<Contract[N], K>>
} & (Contract[N] extends { readonly isRaw: true } ? { readonly raw: Blob } : unknown)

/** What comes back as JSON. */
export type AnswerOf<N extends EndpointName> = Contract[N]['answer'] extends z.ZodType
  ? z.output<Contract[N]['answer']>
  : never

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

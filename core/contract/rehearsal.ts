import { z } from 'zod'
import type { FoundDevice, Started } from '../protocols/master'
import { difficulties, rehearsalAction, rehearsalWish } from '../rehearsal/actions'
import { differenceSchema } from '../rehearsal/differences'
import type { RehearsalFinding } from '../rehearsal/finding'
import type { SignalResult } from '../rehearsal/signal-check'
import { outlineOf, type EndpointShape } from './endpoint'
import { project } from './projects'

const found = outlineOf<FoundDevice>(z.looseObject({ key: z.string() }))
const started = outlineOf<Started>(z.looseObject({ isRunning: z.boolean() }))
const signal = outlineOf<SignalResult>(z.looseObject({ tag: z.string() }))
const finding = outlineOf<RehearsalFinding>(z.looseObject({ code: z.string() }))
const frame = z.object({
  timeUs: z.number(),
  networkId: z.string(),
  direction: z.enum(['sent', 'received']),
  hex: z.string(),
  to: z.object({ transport: z.enum(['udp', 'tcp']), ip: z.string(), port: z.number() }).nullable(),
  peer: z.object({ mac: z.string(), ip: z.string() }).nullable(),
})

/** A rehearsal as somebody sees it who takes part: never what is otherwise than planned, before it
 *  ends. */
const view = z.object({
  difficulty: z.enum(difficulties),
  seed: z.number(),
  begunBy: z.string(),
  begunAt: z.string(),
  /** How many actions there were. */
  actions: z.number(),
  /** Devices by network, as the last scan found them. */
  found: z.record(z.string(), z.array(found).readonly()),
  started: z.record(z.string(), started),
  signals: z.array(signal).readonly(),
  /** What was found while assigning, starting and checking; matching is the reader's own. */
  findings: z.array(finding).readonly(),
  /** Why the last action was not done; null: it was. */
  refused: z.string().nullable(),
  /** The latest, newest last. */
  frames: z.array(frame).readonly(),
  frameCount: z.number(),
  ended: z
    .object({
      score: z
        .array(
          z.object({ difference: differenceSchema, isFound: z.boolean(), isMended: z.boolean() }),
        )
        .readonly(),
    })
    .nullable(),
})
const base = '/api/projects/{project}/rehearsal'
const step = {
  method: 'post',
  at: 'work',
  right: 'commission',
  params: project,
  answer: view,
} as const

export const rehearsalContract = {
  rehearsal: {
    method: 'get',
    at: 'work',
    path: base,
    summary: 'How the rehearsal stands',
    params: project,
    answer: z.object({ rehearsal: view.nullable() }),
  },
  beginRehearsal: {
    ...step,
    path: base,
    summary: 'Build the simulated plant, with differences of a difficulty or from a list',
    body: rehearsalWish,
  },
  actInRehearsal: {
    ...step,
    path: `${base}/actions`,
    summary: 'Do something over the wires or on site',
    body: rehearsalAction,
  },
  endRehearsal: {
    ...step,
    path: `${base}/end`,
    summary:
      'End the rehearsal: tells what was otherwise than planned, and what was found and mended',
  },
  capture: {
    method: 'get',
    at: 'work',
    path: `${base}/capture`,
    summary: 'All frames as a capture file',
    params: project,
    answer: 'file',
  },
} as const satisfies Record<string, EndpointShape>

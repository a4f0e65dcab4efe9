import { describe, expect, test } from 'vitest'
import { derive } from '../derive'
import { newPlan } from '../exchange'
import type { Command, Plan } from '../plan'
import { begin, doAll, shelfCatalog, smallCatalog } from '../test/plans'
import { applyCommand } from '../changing'
import { check, wireCodes } from './check'

const station = (id: string, file = 'tv', device = 'DAP', networkId = 'n1'): Command => ({
  type: 'addStation',
  id,
  networkId,
  file,
  device,
  name: id,
  comment: '',
})
const catalog = new Map([...smallCatalog, ...shelfCatalog])
const base = doAll(
  newPlan('p', 'P'),
  catalog,
  ...begin.slice(0, 2),
  ...['s1', 's2', 's3'].map((id) => station(id)),
  {
    type: 'addNetwork',
    id: 'dp',
    controllerId: 'k1',
    name: 'DP',
    kind: 'profibus',
    settings: { bitRateKbit: 1500 },
  },
  ...['d1', 'd2'].map((id) => station(id, 'BRCK0F31.gsd', 'BW-DP Head', 'dp')),
  { type: 'addNetwork', id: 'ec', controllerId: 'k1', name: 'EC', kind: 'ethercat' },
)
const found = (plan: Plan) =>
  check(derive(plan, catalog)).all.filter(({ code }) => wireCodes.has(code))

const network = (id: string, settings: object): Command => ({
  type: 'updateNetwork',
  id,
  set: { settings },
})
const ofStation = (id: string, settings: object): Command => ({
  type: 'updateStation',
  id,
  set: { settings },
})
const length = (node: string, lengthM: number, more: object = {}): Command => ({
  type: 'updateLinks',
  edits: [{ at: { node, port: 1 }, set: { lengthM, ...more } }],
})
const unlink = (node: string): Command => ({ type: 'unlinkPorts', ends: [{ node, port: 1 }] })
const ring: Command = { type: 'closeRing', networkId: 'n1' }
/** A device whose description says no role in rings cannot close one: of the small head. */
const withoutRole = (all: readonly { code: string }[]) =>
  all.filter(({ code }) => code !== 'ring.role')

test('a plan as it grows has nothing wrong on its wires', () => expect(found(base)).toEqual([]))

const usualLine = { baud: 19_200, dataBits: 8, parity: 'even', stopBits: 1 }
const rtu: Command[] = [
  { type: 'addNetwork', id: 'rtu', controllerId: 'k1', name: 'RTU', kind: 'modbus-rtu' },
  station('m', 'ostrel-wellmeter.sheet.json', 'OD-WM3', 'rtu'),
]

/** What is done, the findings that come of it, and the first fix of the first one. */
const cases: [string, Command[], [string, string][], string | null][] = [
  [
    'no link',
    [unlink('s3')],
    [['link.none', 's3 has no way to the controller of N1: no link leads there.']],
    'Link it to the end of the line',
  ],
  [
    'copper of 120 m',
    [length('s2', 120)],
    [
      [
        'link.length',
        's2: the link from port 1 of s2 to port 2 of s1 is 120 m long; copper reaches 100 m.',
      ],
    ],
    null,
  ],
  [
    'five pairs of connectors',
    [length('s2', 20, { connectors: 5 })],
    [
      [
        'link.connectors',
        's2: the link from port 1 of s2 to port 2 of s1 has 5 pairs of connectors; copper takes 4.',
      ],
    ],
    null,
  ],
  [
    'a loop',
    [ring, network('n1', { ring: false })],
    [
      [
        'link.loop',
        'N1: the link from port 1 of s3 to port 2 of s2 closes a loop that is not planned as a ring.',
      ],
    ],
    'Plan it as a ring',
  ],
  [
    'a ring that nothing closes',
    [network('n1', { ring: true })],
    [['ring.open', 'N1 is planned as a ring, and no link closes it.']],
    'Close the ring',
  ],
  [
    'a ring whose manager is elsewhere',
    [
      ring,
      network('n1', { ringManager: 'd1' }),
      ...['s1', 's2', 's3'].map((id) => ofStation(id, { watchdogFactor: 255 })),
    ],
    [
      [
        'ring.manager',
        'The ring of N1 has no redundancy manager: the chosen node does not stand on it.',
      ],
    ],
    'Let the controller watch over it',
  ],
  [
    'a watchdog shorter than the ring takes',
    [ring, ...['s1', 's3'].map((id) => ofStation(id, { watchdogFactor: 200 }))],
    [
      [
        'ring.watchdog',
        'The watchdog of s2 is 3 ms; the ring of N1 may take 200 ms to change over, and the station drops out.',
      ],
    ],
    'Set the watchdog factor to 200 (200 ms)',
  ],
  [
    'an update time that a device does not take',
    [ofStation('s2', { inputRatio: 1 }), network('n1', { sendClockUs: 250 })],
    [['wire.times', 's2: The update time of its inputs is 0.25 ms; it takes 1 ms or longer.']],
    'Set the update time of the inputs to 1 ms',
  ],
  [
    'a parity that is set otherwise at the device',
    [...rtu, ofStation('m', { line: { ...usualLine, parity: 'none' } })],
    [['wire.times', 'm: The parity set at the device is none; its line has even.']],
    'Set 19200 bit/s 8E1 at the device',
  ],
  [
    'a line of seven data bits',
    [...rtu, network('rtu', { line: { ...usualLine, dataBits: 7 } })],
    [
      [
        'wire.times',
        'RTU: The number of data bits is 7; frames of octets need 8 (MODBUS over serial line V1.02).',
      ],
    ],
    null,
  ],
  [
    'a watchdog register that is written too seldom',
    [...rtu, network('rtu', { requestMs: 5000 })],
    [
      [
        'wire.times',
        'm: The watchdog register 41 is written every 5000 ms; the device wants it every 2000 ms.',
      ],
    ],
    'Ask every 1000 ms',
  ],
  [
    'more than can be asked for',
    [ofStation('s2', { inputRatio: 512, watchdogFactor: 4 })],
    [
      [
        'wire.times',
        's2: Its update time times watchdog or data hold factor is 2048 ms; at most 1920 ms can be asked for.',
      ],
    ],
    null,
  ],
  [
    'a line that is too long for its rate',
    [length('d1', 150), length('d2', 90)],
    [['segment.length', 'The line of DP is 240 m long; at 1500 kbit/s it reaches 200 m.']],
    null,
  ],
  [
    'a terminator that is not set',
    [{ type: 'setPorts', edits: [{ at: { node: 'd2', port: 1 }, set: { terminated: false } }] }],
    [
      [
        'segment.terminators',
        'The line of DP is terminated at K1; it has to be at both ends, and nowhere between.',
      ],
    ],
    'Terminate both ends',
  ],
  [
    'three terminators',
    [{ type: 'setPorts', edits: [{ at: { node: 'd1', port: 1 }, set: { terminated: true } }] }],
    [
      [
        'segment.terminators',
        'The line of DP is terminated at K1, d1, d2; it has to be at both ends, and nowhere between.',
      ],
    ],
    'Terminate both ends',
  ],
  [
    'the controller on the address of a station',
    [network('dp', { masterAddress: 3 })],
    [
      [
        'wire.times',
        "d1: Its bus address is 3, as is its controller's own; one of the two has to be another.",
      ],
    ],
    null,
  ],
  [
    'a rate that nobody chose',
    [network('dp', { bitRateKbit: null })],
    [['wire.timesOdd', 'DP: The bit rate is not chosen yet; all stations take']],
    'Set the bit rate to 1500 kbit/s',
  ],
  [
    'more nodes than a segment takes',
    Array.from({ length: 30 }, (_, i) => station(`x${i}`, 'BRCK0F31.gsd', 'BW-DP Head', 'dp')),
    [['segment.nodes', 'The line of DP has 33 nodes; a segment takes 32, repeaters counted.']],
    null,
  ],
  [
    'more nodes than close a ring in time',
    [
      ...Array.from({ length: 47 }, (_, i) => station(`y${i}`)),
      ring,
      ...['s1', 's2', 's3', ...Array.from({ length: 47 }, (_, i) => `y${i}`)].map((id) =>
        ofStation(id, { watchdogFactor: 6, inputRatio: 64, outputRatio: 64 }),
      ),
    ],
    [['ring.nodes', 'The ring of N1 has 51 nodes; at most 50 close it in time (IEC 62439-2).']],
    null,
  ],
  [
    'a link that is too full',
    Array.from({ length: 29 }, (_, i) => station(`y${i}`)),
    [
      [
        'link.depth',
        'The way of y28 and 23 others is up to 31 switches long; at 1 ms update time 7 are advised.',
      ],
      [
        'link.load',
        's1: cyclic data take 23 % of the link from port 1 of s1 to port 1 of K1, the fullest of 4; from 20 % on it is worth a look.',
      ],
    ],
    null,
  ],
  [
    'a watchdog shorter than three cycles',
    [network('dp', { bitRateKbit: 93.75 }), ofStation('d1', { watchdogMs: 10 })],
    [['wire.timesOdd', 'd1: Its watchdog is 10 ms; three cycles of its network take']],
    'Set the watchdog to',
  ],
]

describe('findings', () => {
  test('a device whose description knows no ring, and a port that another device does not have', () => {
    const plan = doAll(base, catalog, ring)
    expect(
      found(plan)
        .filter(({ code }) => code === 'ring.role')
        .map(({ at }) => at.id),
    ).toEqual(['s3', 's2', 's1'])
    const head = shelfCatalog.get('Quillane-QE200-terminals.xml')!
    const [three, two] = ['YYK', 'KK'].map(
      (physics) =>
        head.devices.find((one) => 'ethercat' in one && one.ethercat.physics === physics)!.key,
    )
    const ec = doAll(
      base,
      catalog,
      station('e1', 'Quillane-QE200-terminals.xml', three!, 'ec'),
      station('e2', 'Quillane-QE200-terminals.xml', two!, 'ec'),
      { type: 'replaceHead', id: 'e1', file: 'Quillane-QE200-terminals.xml', device: two! },
    )
    const [finding] = found(ec).filter(({ code }) => code === 'link.port')
    expect(finding!.message).toBe(
      'e2: a link stands at port 3 of e1, which has only 2 ports by its description.',
    )
    expect(finding!.fixes()[0]!.label).toBe('Remove the link')
  })

  test('more than half of a link', () => {
    const plan = doAll(base, catalog, ...Array.from({ length: 72 }, (_, i) => station(`y${i}`)))
    expect(found(plan).filter(({ code }) => code === 'link.loadHigh')[0]!.message).toBe(
      's1: cyclic data take 53 % of the link from port 1 of s1 to port 1 of K1, the fullest of 4; 50 % is advised at most.',
    )
  })

  test.each(cases)('%s', (_, commands, expected, fix) => {
    const plan = doAll(base, catalog, ...commands)
    const findings = withoutRole(found(plan)) as ReturnType<typeof found>
    expect(findings.map(({ code }) => code)).toEqual(expected.map(([code]) => code))
    for (const [i, [, words]] of expected.entries()) expect(findings[i]!.message).toContain(words)
    const fixes = findings[0]!.fixes()
    if (fix === null) return
    expect(fixes[0]!.label).toContain(fix)
    const applied = applyCommand(plan, catalog, fixes[0]!.command)
    expect(applied.ok).toBe(true)
    if (!applied.ok) return
    const left = found(applied.plan).map(({ code, at }) => `${code}/${at.id}`)
    expect(left).not.toContain(`${findings[0]!.code}/${findings[0]!.at.id}`)
  })

  test('an EtherCAT cycle that its frames do not fit into', () => {
    const files = 'Quillane-QE200-terminals.xml'
    const head = shelfCatalog.get(files)!.devices[0]!.key
    const plan = doAll(
      base,
      catalog,
      ...Array.from({ length: 60 }, (_, i) => station(`e${i}`, files, head, 'ec')),
      network('ec', { cycleUs: 50 }),
    )
    const [finding] = found(plan).filter(({ code }) => code === 'wire.times')
    expect(finding!.message).toMatch(
      /^EC: The cycle is 50 µs; its frames and 60 slaves need \d+ µs\.$/,
    )
    expect(finding!.fixes()[0]!.label).toBe('Set the cycle to 250 µs')
  })
})

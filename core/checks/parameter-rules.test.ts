import { describe, expect, test } from 'vitest'
import { derive } from '../derive'
import { applyChanges, type Command, type Plan, type SignalRow } from '../plan'
import { doAll, wholeDemo } from '../test/plans'
import { recordsOfPlaced } from '../parameters'
import type { Parameter, ParameterRecord } from '../catalog'
import { channelPairs } from '../safety'
import { check } from './check'
import type { MeaningRule } from '../vocabulary'

const { plan: demo, catalog } = wholeDemo()
const set = (
  moduleId: string,
  record: string,
  parameter: string,
  value: number | null,
): Command => ({ type: 'setParameters', edits: [{ moduleId, record, parameter, value }] })
/** The second channels of pairs, which the demo names for who wires them. */
const seconds = Object.values(demo.stations['dosing-2']!.signals).filter(({ tag }) =>
  /_B$/.test(tag),
)
const put = (place: SignalRow['place'], id = seconds[0]!.id): Command => ({
  type: 'editSignals',
  edits: [{ id, place }],
})
const plan = doAll(
  demo,
  catalog,
  {
    type: 'setIParameterSum',
    moduleId: 'dosing-2.1',
    subslot: 1,
    crc: 1,
    by: 'AK',
    at: '2026-05-01T08:00:00Z',
  },
  ...seconds.map(({ id }) => put(null, id)),
)
const found = (now: Plan, code: string, files = catalog) =>
  check(derive(now, files)).all.filter((finding) => finding.code === code)

/** The same files, with F parameters that may be anything their octets hold. */
const loose: typeof catalog = new Map(
  [...catalog].map(([hash, file]) => [
    hash,
    {
      ...file,
      modules: file.modules.map((module) => ({
        ...module,
        submodules: module.submodules.map((submodule) =>
          submodule.safety
            ? {
                ...submodule,
                parameters: submodule.parameters.map((record) => ({
                  ...record,
                  parameters: record.parameters.map((parameter) => ({ ...parameter, allowed: [] })),
                })),
              }
            : submodule,
        ),
      })),
    },
  ]),
)

const ozoneRecord = (() => {
  const view = derive(plan, catalog).stations.get('ozone-io')!
  return recordsOfPlaced(catalog, view.station.file, view.device!, {}).find(({ record }) =>
    record.parameters.some(({ key }) => key === 'Param3'),
  )!.key
})()

/** Values as no command would set them, as an older description may have allowed. */
function force(id: string, values: Record<string, Record<string, number>>): Plan {
  const row = Object.values(plan.stations)
    .flatMap(({ modules }) => Object.values(modules))
    .find((one) => one.id === id)!
  return applyChanges(plan, [{ table: 'modules', id, before: row, after: { ...row, values } }])
}

/** A plan that breaks each rule, and a part of what it says. */
const cases: [code: string, broken: () => Plan, says: string, files?: typeof catalog][] = [
  [
    'parameter.illegal',
    () => force('dosing-1.4', { '1.1': { Ch0Range: 9 } }),
    'Signal range is 9; 0..3 is allowed',
  ],
  [
    'parameter.illegal',
    () => force('dosing-1.4', { '1.7': { Odd: 9 } }),
    'knows no parameter "Odd" in record 1.7',
  ],
  [
    'parameter.illegal',
    () => force('dosing-2.2', { '1.16': { F_Par_CRC: 9, F_Dest_Add: 12 } }),
    'F_Par_CRC is set by hand',
  ],
  [
    'parameter.unused',
    () =>
      doAll(
        plan,
        catalog,
        set('dosing-2.5', '2p.60', 'V_Switch1.1', 2000),
        set('dosing-2.5', '2p.60', 'V_Switch1.3', 0),
      ),
    'Switching point of dosing-2 · slot 5 is set, but the device does not use it as things are: Mode is “off”; it would have to be “one point”',
  ],
  [
    'safety.destination',
    () => force('dosing-2.2', { '1.16': { F_Dest_Add: 0 } }),
    'it lies from 1 to 65534',
    loose,
  ],
  [
    'safety.destinationDuplicate',
    () => doAll(plan, catalog, set('dosing-2.2', '1.16', 'F_Dest_Add', 11)),
    'has the F destination address 11',
  ],
  [
    'safety.iParameterSum',
    () => doAll(plan, catalog, set('dosing-2.1', '1.100', 'P0_Gap', 100)),
    'entered by AK on 2026-05-01, is stale',
  ],
  [
    'safety.iParameterSum',
    () =>
      doAll(plan, catalog, {
        type: 'setIParameterSum',
        moduleId: 'dosing-2.1',
        subslot: 1,
        crc: null,
        by: '',
        at: '',
      }),
    'needs a check sum',
  ],
  [
    'safety.watchdog',
    () => force('dosing-2.2', { '1.16': { F_Dest_Add: 12, F_WD_Time: 3 } }),
    'is 3 ms; it must be longer than twice',
    loose,
  ],
  // PROFIsafe: F_WD_Time is from 1 on (IEC 61784-3-3, from memory).
  [
    'safety.noWatchdog',
    () => force('dosing-2.2', { '1.16': { F_Dest_Add: 12, F_WD_Time: 0 } }),
    'has the monitoring time 0 ms',
    loose,
  ],
  [
    'safety.configuration',
    () =>
      doAll(
        plan,
        catalog,
        {
          type: 'setSafetyConfiguration',
          id: 'ozone-io',
          signature: '1A2B',
          by: 'SV',
          at: '2026-06-01',
        },
        {
          type: 'setParameters',
          edits: [{ moduleId: 'ozone-io', record: ozoneRecord, parameter: 'Param3', value: 20 }],
        },
      ),
    'entered by SV on 2026-06-01, is stale',
  ],
  [
    'safety.networkNumber',
    () =>
      doAll(
        plan,
        catalog,
        {
          type: 'addNetwork',
          id: 'n-more',
          controllerId: 'k1',
          name: 'More',
          kind: 'ethernet-ip',
          settings: { controllerIp: '10.7.0.1' },
        },
        ...['n-ozone', 'n-more'].map((id): Command => ({
          type: 'updateNetwork',
          id,
          set: { settings: { safetyNetworkNumber: '4e20000000aa' } },
        })),
      ),
    'which Ozone skid has too',
  ],
  [
    'safety.secondOfPair',
    () => doAll(plan, catalog, put(seconds[0]!.place)),
    'DOS_ES1_B sits on channel 4 of dosing-2 · slot 1, the second of a pair: it stays 0, the value stands at channel 0',
  ],
  [
    'safety.halfPair',
    () => doAll(plan, catalog, put(null, 'd101'), put(seconds[0]!.place)),
    'the second of a pair: the value stands at channel 0, where no signal is',
  ],
  [
    'signal.channelOff',
    () => doAll(plan, catalog, set('dosing-1.4', '1.1', 'Ch0Range', 0)),
    'sits on a channel of dosing-1 · slot 4 that is switched off',
  ],
  [
    'safety.testExternal',
    () => doAll(plan, catalog, set('dosing-2.1', '1.100', 'P0_Supply', 1)),
    'tests channels 0 and 4 for short circuits',
  ],
  [
    'safety.changed',
    () =>
      doAll(plan, catalog, {
        type: 'setProject',
        set: { safetyRelease: { signature: '00', by: 'MV', at: '2026-05-02T00:00:00Z' } },
      }),
    'what MV released on 2026-05-02',
  ],
]

describe('every rule', () => {
  test.each(cases)('%s', (code, broken, says, files) => {
    expect(found(plan, code, files)).toEqual([])
    const [finding] = found(broken(), code, files)
    expect(finding?.message).toContain(says)
  })

  test.each(cases)('what %s offers mends it', (code, broken) => {
    const before = broken()
    for (const finding of found(before, code)) {
      for (const { command } of finding.fixes())
        expect(
          found(doAll(before, catalog, command), code).filter(({ at }) => at.id === finding.at.id),
        ).toEqual([])
    }
  })

  test('channels without a signal, and their fix', () => {
    const [finding] = found(plan, 'channels.unusedOn')
    expect(finding).toMatchObject({ severity: 'note', at: { words: 'intake-b' } })
    expect(
      found(doAll(plan, catalog, finding!.fixes()[0]!.command), 'channels.unusedOn').map(
        ({ at }) => at.words,
      ),
    ).not.toContain('intake-b')
  })
})

// How makers say which channels a parameter is for: in its name, in its menu, or not at all; each
// channel for itself, or each pair.
describe('pairs of channels', () => {
  const texts = { 0: '1oo1', 1: '1oo2, equivalent' }
  const parameter = (name: string, menu = ''): Parameter =>
    ({
      key: name,
      name,
      type: 'Unsigned8',
      offsetBytes: 0,
      offsetBits: 0,
      bits: 8,
      kind: 'unsigned',
      order: 'big',
      default: 1,
      allowed: [],
      texts,
      visible: true,
      changeable: true,
      ...(menu && { menus: [{ path: [menu], rank: 0 }] }),
    }) as unknown as Parameter
  const pairsOf = (
    parameters: readonly Parameter[],
    rules: readonly MeaningRule[] = [],
    numbers = [0, 1, 2, 3],
  ) =>
    channelPairs(
      [
        {
          key: 'r',
          subslot: 1,
          owner: '',
          isFailSafe: false,
          isSafety: true,
          record: { parameters } as unknown as ParameterRecord,
        },
      ],
      {},
      rules,
      numbers,
    ).map(({ channels, evaluation }) => `${channels.join('+')} ${evaluation}`)
  test.each<[string, Parameter[], MeaningRule[], string[]]>([
    ['named in the parameter', [parameter('Evaluation of inputs 0, 2')], [], ['0+2 equivalent']],
    [
      'named by the menu around it',
      [parameter('Evaluation', 'Channels 1 and 3')],
      [],
      ['1+3 equivalent'],
    ],
    [
      'in order, one for each pair',
      [parameter('Evaluation A'), parameter('Evaluation B')],
      [],
      ['0+2 equivalent', '1+3 equivalent'],
    ],
    [
      'one for each channel',
      [0, 1, 2, 3].map((i) => parameter(`Channel ${i} evaluation`)),
      [],
      ['0+2 equivalent', '1+3 equivalent'],
    ],
    [
      'as the project says, neighbours',
      [parameter('Betriebsart A'), parameter('Betriebsart B')],
      [{ meaning: 'evaluationBeside', words: 'betriebsart' }],
      ['0+1 equivalent', '2+3 equivalent'],
    ],
    [
      'not of a parameter that evaluates nothing',
      [{ ...parameter('Evaluation of temperature'), texts: { 0: 'mean', 1: 'peak' } }],
      [],
      [],
    ],
  ])('%s', (_, parameters, rules, expected) => expect(pairsOf(parameters, rules)).toEqual(expected))
})

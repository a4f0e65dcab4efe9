import { recordsOnWire } from '../derive'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { derive } from '../derive'
import { newPlan } from '../exchange'
import { wordRefusal, type Command, type SingleCommand } from '../plan'
import { doAll, shelfCatalog, wholeDemo } from '../test/plans'
import { parameterGroups } from './groups'
import { shownValue, typedValue } from './words'
import { encodePlaced, recordsOfPlaced } from './placed'
import { setPrmTelegram, userParameters, watchdogFactors } from '../protocols/profibus/set-prm'
import { sdoDownload, startUpList } from '../protocols/ethercat/start-up'
import { fromHex, toHex } from '../vocabulary/hex'
import { bitPlaces, encodeValue } from './value'
import { kindNamed, type NetworkKindName } from '../protocols'
import { applyCommand } from '../changing'

const { plan, catalog } = wholeDemo()
const set = (
  moduleId: string,
  record: string,
  parameter: string,
  value: number | string | null,
): Command => ({ type: 'setParameters', edits: [{ moduleId, record, parameter, value }] })
const moduleOf = (now: typeof plan, id: string) =>
  Object.values(now.stations)
    .flatMap(({ modules }) => Object.values(modules))
    .find((row) => row.id === id)!
const bytesOf = (now: typeof plan, id: string, key: string) => {
  for (const view of derive(now, catalog).stations.values()) {
    const module = view.modules.find((one) => one.id === id)
    const placed =
      module?.described &&
      recordsOfPlaced(catalog, view.station.file, module.described, module.plugged).find(
        (one) => one.key === key,
      )
    if (module && placed)
      return encodePlaced(placed, (module.row ?? view.station).values[key]).bytes
  }
  throw new Error(`${id} has no record ${key}`)
}

describe('setting parameters', () => {
  test.each<[Command, string]>([
    [set('nobody', '1.1', 'Ch0Range', 1), 'The module is no longer in the plan'],
    [set('dosing-1.4', '1.1', 'Ch9Range', 1), 'dosing-1 · slot 4 has no parameter "Ch9Range"'],
    [set('dosing-1.4', '9.1', 'Ch0Range', 1), 'has no parameter "Ch0Range"'],
    [
      set('dosing-1.4', '1.1', 'Ch0Range', 4),
      'dosing-1 · slot 4: Signal range is 4; 0..3 is allowed.',
    ],
    [
      set('dosing-1.4', '1.1', 'Ch0High', 32_512),
      'Upper limit is 32512; -32000..32511 is allowed.',
    ],
    [set('dosing-2.1', '1.16', 'F_Par_CRC', 1), 'F_Par_CRC follows from the others'],
    [set('dosing-2.1', '1.16', 'F_Dest_Add', 1023), 'F_Dest_Add is 1023; 1..1022 is allowed.'],
  ])('%j is refused', (command, says) => {
    const applied = applyCommand(plan, catalog, command)
    expect(applied.ok ? '' : wordRefusal(applied.refusal)).toContain(says)
  })

  test('lands in the record’s octets, and back at the default it is no choice any more', () => {
    const before = bytesOf(plan, 'dosing-1.4', '1.1')
    const changed = doAll(plan, catalog, set('dosing-1.4', '1.1', 'Ch2High', -2))
    // Two octets of head, eight a channel, the upper limit at the third (the demo file's own
    // layout); big-endian.
    expect(bytesOf(changed, 'dosing-1.4', '1.1').split(' ').slice(20, 22)).toEqual(['ff', 'fe'])
    expect(moduleOf(changed, 'dosing-1.4').values['1.1']).toMatchObject({ Ch2High: -2 })
    const back = doAll(changed, catalog, set('dosing-1.4', '1.1', 'Ch2High', 32_000))
    expect(moduleOf(back, 'dosing-1.4').values).toEqual(moduleOf(plan, 'dosing-1.4').values)
    expect(bytesOf(back, 'dosing-1.4', '1.1')).toBe(before)
  })

  test('a device below a port has its variables under the port’s subslot', () => {
    expect(
      bytesOf(
        doAll(plan, catalog, set('dosing-2.5', '2p.70', 'V_Damping', 1000)),
        'dosing-2.5',
        '2p.70',
      ),
    ).toBe('03 e8')
  })

  test('thousands at once are one change', () => {
    const edits = Array.from({ length: 8 }, (_, channel) => ({
      moduleId: 'dosing-1.4',
      record: '1.1',
      parameter: `Ch${channel}Range`,
      value: 3,
    }))
    const applied = applyCommand(plan, catalog, { type: 'setParameters', edits })
    expect(applied.ok && applied.changes).toHaveLength(1)
  })
})

describe('another type of module', () => {
  test('takes over what it knows under the same name; the rest is kept and told', () => {
    const wider = doAll(
      plan,
      catalog,
      {
        type: 'insertModule',
        id: 'x',
        stationId: 'dosing-1',
        slot: 6,
        module: 'M_AI4',
        shift: false,
      },
      set('x', '1.1', 'Ch3Range', 2),
      { type: 'replaceModule', id: 'x', module: 'M_AI8' },
    )
    expect(moduleOf(wider, 'x').values).toEqual({ '1.1': { Ch3Range: 2 } })
    const narrow = doAll(plan, catalog, set('intake-b.3', '1.1', 'Ch7Range', 2), {
      type: 'replaceModule',
      id: 'intake-b.3',
      module: 'M_AI4',
    })
    expect(moduleOf(narrow, 'intake-b.3').values).toEqual({ '1.1': { Ch7Range: 2 } })
  })
  test('copies and pastes carry them', () => {
    const copied = doAll(plan, catalog, {
      type: 'copyStation',
      sourceId: 'dosing-1',
      networkId: 'n-dosing',
      copies: [{ id: 'copy', find: '', with: '' }],
    })
    expect(moduleOf(copied, 'copy.4').values).toEqual(moduleOf(plan, 'dosing-1.4').values)
  })
  test('put on others by name, what does not fit is left as it was', () => {
    const copied = doAll(plan, catalog, {
      type: 'copyParameters',
      values: { '1.1': { Ch2Range: 3, Ch7Range: 3 } },
      file: plan.stations['intake-a']!.station.file,
      from: 'M_AI8',
      moduleIds: ['intake-a.5'],
    })
    expect(moduleOf(copied, 'intake-a.5').values).toEqual({ '1.1': { Ch0Range: 2, Ch2Range: 3 } })
  })
})

const onNetwork = (kind: NetworkKindName, file: string, device: string, ...more: SingleCommand[]) =>
  derive(
    doAll(
      newPlan('p', 'P'),
      shelfCatalog,
      {
        type: 'addController',
        id: 'k1',
        name: 'K1',
        inputBytes: 512,
        outputBytes: 512,
        aligned: true,
      },
      {
        type: 'addNetwork',
        id: 'n',
        controllerId: 'k1',
        name: 'N',
        kind,
        settings: kindNamed(kind).hasIp ? { controllerIp: '10.0.0.1' } : {},
      },
      { type: 'addStation', id: 's', networkId: 'n', file, device, name: 's', comment: '' },
      ...more,
    ),
    shelfCatalog,
  ).stations.get('s')!

// Set_Prm: station status, watchdog factors, shortest station delay, ident number, groups, user
// data (EN 50170, from memory).
describe('the Set_Prm telegram', () => {
  test('of a station with modules', () => {
    const file = shelfCatalog.get('BRCK0F31.gsd')!
    const view = onNetwork('profibus', 'BRCK0F31.gsd', file.devices[0]!.key)
    const parts = userParameters(recordsOnWire(view, shelfCatalog))
    const telegram = setPrmTelegram(
      0x0f31,
      Uint8Array.from(parts.flatMap(({ bytes }) => [...bytes])),
    )
    expect(toHex(telegram).slice(0, 20)).toBe('88 0a 01 0b 0f 31 00')
    expect(telegram.length).toBe(7 + parts.reduce((sum, { bytes }) => sum + bytes.length, 0))
  })
  test.each([
    [{ watchdogMs: 0, minStationDelayBits: 11, syncs: false, freezes: false, groups: 0 }, '80'],
    [{ watchdogMs: 0, minStationDelayBits: 11, syncs: true, freezes: true, groups: 3 }, 'b0'],
  ])('%j', (settings, status) =>
    expect(toHex(setPrmTelegram(1, new Uint8Array(), settings)).slice(0, 2)).toBe(status),
  )
  test('watchdog factors are the nearest pair that is not too short', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 650_250 }), (ms) => {
        const [first, second] = watchdogFactors(ms)
        expect(
          first >= 1 && first <= 255 && second >= 1 && second <= 255 && first * second * 10 >= ms,
        ).toBe(true)
        let nearest = Infinity
        for (let a = 1; a <= 255; a++)
          for (const b of [Math.ceil(Math.ceil(ms / 10) / a)])
            if (b <= 255) nearest = Math.min(nearest, a * b)
        expect(first * second).toBe(nearest)
      }),
      { numRuns: 200 },
    )
  })
})

describe('the start-up list of an EtherCAT slave', () => {
  const file = shelfCatalog.get('Quillane-QE200-terminals.xml')!
  const device = file.devices.find(({ parameters }) =>
    parameters.some(({ transitions }) => transitions),
  )!
  test('goes through the states in order, own lines behind the description’s', () => {
    const own = {
      transition: 'PS' as const,
      index: 0x8000,
      subindex: 1,
      data: '05 00',
      comment: 'wider window',
    }
    const view = onNetwork('ethercat', 'Quillane-QE200-terminals.xml', device.key, {
      type: 'updateStation',
      id: 's',
      set: { settings: { startUp: [own, { ...own, transition: 'IP', comment: 'first' }] } },
    })
    const steps = startUpList(view, recordsOnWire(view, shelfCatalog))
    expect(steps.length).toBe(
      2 + device.parameters.reduce((sum, { transitions }) => sum + (transitions?.length ?? 0), 0),
    )
    expect(steps[0]).toMatchObject({ transition: 'IP' })
    expect(steps.filter(({ from }) => from === 'own').map(({ comment }) => comment)).toEqual([
      'first',
      'wider window',
    ])
    expect(
      steps.findLastIndex(({ transition, from }) => transition === 'PS' && from !== 'own'),
    ).toBeLessThan(steps.findIndex(({ comment }) => comment === 'wider window'))
  })
  // SDO download: expedited with the number of unused octets in bits 2 and 3, else the size in four
  // octets (ETG.1000.6, from memory).
  test.each([
    ['01', '00 20 2f 10 80 06 01 00 00 00'],
    ['10 27', '00 20 2b 10 80 06 10 27 00 00'],
    ['01 02 03 04', '00 20 23 10 80 06 01 02 03 04'],
    ['01 02 03 04 05', '00 20 21 10 80 06 05 00 00 00 01 02 03 04 05'],
  ])('%s', (data, expected) =>
    expect(toHex(sdoDownload({ index: 0x8010, subindex: 6, data }))).toBe(expected),
  )
})

test('what is sent is as long as the record says, whatever is chosen', () => {
  const view = derive(plan, catalog).stations.get('dosing-1')!
  const module = view.modules.find(({ id }) => id === 'dosing-1.4')!
  const placed = recordsOfPlaced(
    catalog,
    view.station.file,
    module.described!,
    module.plugged,
  ).find(({ key }) => key === '1.1')!
  const keys = placed.record.parameters.map(({ key }) => key)
  fc.assert(
    fc.property(
      fc.dictionary(fc.constantFrom(...keys), fc.oneof(fc.integer(), fc.double(), fc.string())),
      (values) => {
        const { bytes, problems } = encodePlaced(placed, values)
        expect(fromHex(bytes).length).toBe(placed.record.length)
        expect(problems.length <= Object.keys(values).length).toBe(true)
      },
    ),
  )
})

describe('parameters as somebody looks at them', () => {
  const groupsOf = (stationId: string, moduleId: string) => {
    const view = derive(plan, catalog).stations.get(stationId)!
    const module = view.modules.find(({ id }) => id === moduleId)!
    return parameterGroups(
      recordsOfPlaced(catalog, view.station.file, module.described!, module.plugged),
      module.row!.values,
    )
  }
  test('stand under the menus of their record, in its order', () => {
    const groups = groupsOf('dosing-1', 'dosing-1.4')
    expect(groups.map(({ heading }) => heading.join(' › '))).toEqual([
      'Module',
      ...Array.from({ length: 8 }, (_, channel) => `Channel ${channel}`),
    ])
    expect(
      groups[1]!.rows.map(({ parameter, isChosen }) => `${parameter.name}${isChosen ? ' *' : ''}`),
    ).toEqual([
      'Signal range',
      'Smoothing *',
      'Diagnosis wire break',
      'Diagnosis limits',
      'Upper limit',
      'Lower limit',
      'Value on fault',
    ])
  })
  test('menus of a device gather its variables, port by port', () => {
    expect(
      groupsOf('dosing-2', 'dosing-2.5')
        .slice(0, 4)
        .map(({ heading }) => heading.join(' › ')),
    ).toEqual([
      'Port 2 · Level sensor LevelEye › Identification',
      'Port 2 · Level sensor LevelEye › Parameter',
      'Port 2 · Level sensor LevelEye › Parameter › Switching output 1',
      'Port 3 · Level sensor LevelEye › Identification',
    ])
  })
  test('check sums of F parameters are not among them, and they come first', () => {
    expect(
      groupsOf('dosing-2', 'dosing-2.1')
        .map(({ heading }) => heading.at(-1))
        .slice(0, 3),
    ).toEqual(['F parameters', 'Module', 'Channels 0 and 4'])
    expect(
      groupsOf('dosing-2', 'dosing-2.2').flatMap(({ rows }) =>
        rows.map(({ parameter }) => parameter.key),
      ),
    ).not.toContain('F_Par_CRC')
  })
  test('every bit of a record belongs to at most one parameter of the demo’s modules, and comes back from it', () => {
    const view = derive(plan, catalog).stations.get('dosing-1')!
    for (const module of view.modules) {
      for (const { record } of module.described
        ? recordsOfPlaced(catalog, view.station.file, module.described, module.plugged)
        : []) {
        const bits = record.parameters.flatMap((parameter) =>
          bitPlaces(parameter).map(({ octet, bit }) => octet * 8 + bit),
        )
        expect(new Set(bits).size).toBe(bits.length)
      }
    }
  })
  // The bits that a value takes are those that change when all of its bits are set.
  test('the bits of a value are where it is written', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('big' as const, 'little' as const),
        fc.nat(3),
        fc.nat(7),
        fc.integer({ min: 1, max: 24 }),
        (byteOrder, offsetBytes, offsetBits, bits) => {
          const place = { kind: 'unsigned' as const, byteOrder, offsetBytes, offsetBits, bits }
          const bytes = new Uint8Array(8)
          encodeValue(bytes, place, 2 ** bits - 1)
          const set = Array.from({ length: 64 }, (_, at) => at).filter(
            (at) => (bytes[at >> 3]! >> (at & 7)) & 1,
          )
          expect(
            bitPlaces(place)
              .map(({ octet, bit }) => octet * 8 + bit)
              .sort((a, b) => a - b),
          ).toEqual(set)
        },
      ),
    )
  })
})

describe('what is typed and what is shown', () => {
  const scaled = {
    kind: 'unsigned' as const,
    unit: 's',
    display: { factor: 0.001, offset: 0, decimals: 3 },
  }
  test.each([
    ['0.25', scaled, 250],
    ['0,25 s', scaled, 250],
    ['0x10', { kind: 'unsigned' as const }, 16],
    ['-3', { kind: 'signed' as const }, -3],
    ['much', scaled, 'much'],
    ['12', { kind: 'text' as const }, '12'],
    ['1.5', { kind: 'float' as const, display: { factor: 2, offset: 1, decimals: null } }, 0.25],
  ])('%s of %j is %s', (text, parameter, value) => expect(typedValue(parameter, text)).toBe(value))
  test('a whole number comes back from how it is shown', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -30_000, max: 30_000 }),
        fc.constantFrom(0.001, 0.1, 1, 5),
        fc.integer({ min: -50, max: 50 }),
        (value, factor, offset) => {
          const parameter = { kind: 'signed' as const, display: { factor, offset, decimals: null } }
          expect(typedValue(parameter, shownValue(parameter, value))).toBe(value)
        },
      ),
    )
  })
})

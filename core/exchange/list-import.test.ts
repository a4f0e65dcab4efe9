import ExcelJS from 'exceljs'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { derive } from '../derive'
import type { Plan } from '../plan'
import { doAll, wholeDemo } from '../test/plans'
import { writeCsv } from './csv'
import { placeOf } from '../vocabulary'
import { kindOfChannel } from '../catalog'
import { channelsOfStation, ioList, listChannels } from './io-list'
import { wordChannelPlace, type ListOrder } from './list-order'
import { compareList, guessMapping, takeList, type ListDifference } from './list-import'
import { readList } from './list-reading'
import type { ListTable } from './list-table'
import { ioTable, writeXlsx } from './xlsx'

const { plan, catalog } = wholeDemo()
const derived = derive(plan, catalog)
const bytes = (text: string) => new TextEncoder().encode(text)
const tables = async (data: Uint8Array, name = 'list.csv') => {
  const read = await readList(data, name)
  if (typeof read === 'string') throw new Error(read)
  return read
}
const compare = (table: ListTable, now: Plan = plan) =>
  compareList(now === plan ? derived : derive(now, catalog), table, guessMapping(table.headings))
const of = async (text: string) => compare((await tables(bytes(text)))[0]!)
const short = ({ kind, tag, where, note, changes }: ListDifference) => [
  kind,
  tag,
  where,
  note || changes.map(({ field, before, after }) => `${field}: ${before} > ${after}`).join('; '),
]

describe('reading', () => {
  test.each([
    ['commas', 'Tag,Comment\nA,x'],
    ['semicolons', 'Tag;Comment\nA;x'],
    ['tabs', 'Tag\tComment\nA\tx'],
    ['bars', 'Tag|Comment\nA|x'],
    ['a title and empty lines above', 'Pumps\n\nTag;Comment\nA;x\n;;\n'],
    ['quotes', '"Tag";"Comment"\n"A";"x"'],
    ['a byte order mark', '\ufeffTag;Comment\r\nA;x\r\n'],
  ])('%s', async (_, text) => {
    const [{ headings, rows }] = (await tables(bytes(text))) as [ListTable]
    expect([headings.slice(0, 2), rows.map(({ cells }) => cells.slice(0, 2))]).toEqual([
      ['Tag', 'Comment'],
      [['A', 'x']],
    ])
  })
  test('cells over several lines, and other encodings', async () => {
    expect((await tables(bytes('Tag;Comment\nA;"two\nlines"')))[0]!.rows[0]!.cells[1]).toBe(
      'two\nlines',
    )
    expect(
      (await tables(Uint8Array.from([...bytes('Tag;Comment\nA;'), 0xfc])))[0]!.rows[0]!.cells[1],
    ).toBe('ü')
    const utf16 = Uint8Array.from([
      0xff,
      0xfe,
      ...[...'Tag;Comment\nA;ä'].flatMap((sign) => [
        sign.charCodeAt(0) & 255,
        sign.charCodeAt(0) >> 8,
      ]),
    ])
    expect((await tables(utf16))[0]!.rows[0]!.cells[1]).toBe('ä')
  })
  test('a workbook: merged cells, formulas, dates, headings twice', async () => {
    const workbook = new ExcelJS.Workbook()
    const sheet = workbook.addWorksheet('Signals')
    sheet.addRows([
      ['Tag', 'Comment', 'Comment'],
      ['A', 'x', 'y'],
      ['B', { formula: '1+1', result: 2 } as never, new Date('2026-05-01T00:00:00Z')],
    ])
    sheet.mergeCells('B2:C2')
    const [table] = await tables(new Uint8Array(await workbook.xlsx.writeBuffer()), 'list.xlsx')
    expect(table!.rows.map(({ cells }) => cells)).toEqual([
      ['A', 'x', ''],
      ['B', '2', '2026-05-01'],
    ])
    expect(table!.notes).toEqual([
      '1 merged cell counts for its first row and column only.',
      '1 formula was read as the value that was saved with it.',
      'The heading "Comment" stands more than once; each of its columns can be used for something else.',
    ])
  })
  test.each<[string, Uint8Array, string]>([
    ['nothing', new Uint8Array(), 'is empty'],
    ['an old workbook', Uint8Array.from([0xd0, 0xcf, 0x11, 0xe0]), 'before 2007'],
    ['a broken workbook', Uint8Array.from([0x50, 0x4b, 3, 4, 0]), 'no workbook that can be read'],
    ['no rows', bytes('Tag;Comment\n'), 'no row under a heading'],
    ['an open quotation mark', bytes('Tag;Comment\nA;"x'), 'quotation mark'],
    [
      'too many rows',
      bytes(`Tag;Comment\n${'A;x\n'.repeat(200_000)}`),
      '200000 rows; 100000 are taken',
    ],
    ['octets', Uint8Array.from([1, 0, 2, 0, 3]), 'neither a workbook nor a text'],
  ])('%s is refused with a sentence', async (_, data, says) =>
    expect(await readList(data, 'list.csv')).toContain(says),
  )
})

describe('columns', () => {
  test('are recognised by their headings, and as they were chosen before', () => {
    expect(
      guessMapping(['KKS', 'Signal', 'Beschreibung', 'Klemme', 'Adresse', 'Typ', 'Serial']),
    ).toEqual(['designation', 'tag', 'comment', 'terminal', 'address', 'needs', null])
    expect(guessMapping(['Signal', 'Name'], { signal: 'comment', name: 'tag' })).toEqual([
      'comment',
      'tag',
    ])
    expect(guessMapping(['Signal', 'Text'], { signal: '' })).toEqual([null, 'comment'])
  })
})

describe('comparing', () => {
  test.each<[string, string, (string | undefined)[][]]>([
    [
      'a changed comment',
      'Tag;Comment\nINT_LT_101;Level of the basin',
      [
        [
          'changed',
          'INT_LT_101',
          'intake-a · slot 5 · Channel 0',
          'comment: Intake basin level > Level of the basin',
        ],
      ],
    ],
    [
      'a new name for a place',
      'Terminal;Tag\nA1-X5:1;INT_LT_1',
      [['changed', 'INT_LT_1', 'intake-a · slot 5 · Channel 0', 'tag: INT_LT_101 > INT_LT_1']],
    ],
    [
      'a new signal on a free channel, by its address and station',
      'Tag;Address;Station\nNEW_1;%IW26;intake-b',
      [
        [
          'added',
          'NEW_1',
          'intake-b · slot 3 · Channel 6',
          'tag:  > NEW_1; channel:  > intake-b · slot 3 · Channel 6',
        ],
      ],
    ],
    [
      'by station, slot and channel',
      'Tag;Station;Slot;Channel\nNEW_1;intake-b;3;6',
      [
        [
          'added',
          'NEW_1',
          'intake-b · slot 3 · Channel 6',
          'tag:  > NEW_1; channel:  > intake-b · slot 3 · Channel 6',
        ],
      ],
    ],
    [
      'a new signal without a place',
      'Tag;Comment;Measures\nNEW_1;new;0..5 bar',
      [
        [
          'added',
          'NEW_1',
          'no channel yet',
          'tag:  > NEW_1; comment:  > new; Measures:  > 0…5 bar',
        ],
      ],
    ],
    [
      'an address that two controllers have',
      'Tag;Address\nNEW_1;%IW26',
      [
        [
          'ambiguous',
          'NEW_1',
          '',
          expect.stringMatching(/^The address %IW26 means 3 channels: intake-b/) as never,
        ],
      ],
    ],
    [
      'a signal moved to a free channel',
      'Tag;Station;Slot;Channel\nINT_LT_101;intake-b;3;6',
      [
        [
          'changed',
          'INT_LT_101',
          'intake-b · slot 3 · Channel 6',
          'channel: another channel > intake-b · slot 3 · Channel 6',
        ],
      ],
    ],
    [
      'a place that is taken',
      'Tag;Station;Slot;Channel\nINT_LT_101;intake-a;5;1',
      [
        [
          'ambiguous',
          'INT_LT_101',
          'intake-a · slot 5 · Channel 1',
          'INT_LT_101 stands elsewhere, and its place in the list holds INT_PT_102.',
        ],
      ],
    ],
    [
      'an address that is nowhere',
      'Tag;Address\nNEW_1;%IX900.0',
      [['ambiguous', 'NEW_1', '', 'There is no channel at the address %IX900.0.']],
    ],
    [
      'a comment too long',
      `Tag;Comment\nNEW_1;${'x'.repeat(2001)}`,
      [
        [
          'ambiguous',
          'NEW_1',
          '',
          'NEW_1: 2001 characters are more than the 2000 that its comment holds.',
        ],
      ],
    ],
    [
      'an illegal tag',
      'Tag;Comment\nA-B;x',
      [
        [
          'ambiguous',
          'A-B',
          '',
          'A-B is no tag: "-" at position 2 is not a letter, digit or underscore.',
        ],
      ],
    ],
    [
      'a tag twice',
      'Tag;Comment\nNEW_1;x\nnew_1;y',
      [
        ['added', 'NEW_1', 'no channel yet', 'tag:  > NEW_1; comment:  > x'],
        ['ambiguous', 'new_1', '', 'new_1 stands in row 2 of the list too.'],
      ],
    ],
    [
      'two rows for one signal',
      'Tag;Terminal\nNEW_1;A1-X5:1\nINT_LT_101;',
      [
        ['changed', 'NEW_1', 'intake-a · slot 5 · Channel 0', 'tag: INT_LT_101 > NEW_1'],
        ['ambiguous', 'INT_LT_101', '', 'Row 2 of the list means the same signal.'],
      ],
    ],
    [
      'two rows for one channel',
      'Tag;Station;Slot;Channel\nNEW_1;intake-b;3;6\nNEW_2;intake-b;3;Channel 6',
      [
        [
          'added',
          'NEW_1',
          'intake-b · slot 3 · Channel 6',
          'tag:  > NEW_1; channel:  > intake-b · slot 3 · Channel 6',
        ],
        [
          'ambiguous',
          'NEW_2',
          'intake-b · slot 3 · Channel 6',
          'Row 2 of the list means the same channel.',
        ],
      ],
    ],
    [
      'a range that is none',
      'Tag;Measures\nINT_LT_101;deep',
      [
        [
          'ambiguous',
          'INT_LT_101',
          '',
          'INT_LT_101: Measures: "deep" is no measuring range; 0…6 bar is one.',
        ],
      ],
    ],
  ])('%s', async (_, text, expected) =>
    expect(
      (await of(text)).differences.filter(({ kind }) => kind !== 'removed').map(short),
    ).toEqual(expected),
  )

  test('what the list does not have is offered to be removed, and only if it has tags', async () => {
    const { differences } = await of('Tag;Comment\nINT_LT_101;Intake basin level')
    expect(differences.filter(({ kind }) => kind === 'removed').length).toBeGreaterThan(100)
    expect(differences.some(({ tag }) => tag === 'INT_LT_101')).toBe(false)
    expect((await of('Terminal;Comment\nA1-X5:1;x')).differences.map(({ kind }) => kind)).toEqual([
      'changed',
    ])
  })
  test('taken over it is one change, and then the list says nothing new', async () => {
    const [table] = await tables(
      bytes(
        'Tag;Comment;Address;Station;Measures\nINT_LT_101;Level;;;0..9 m\nNEW_1;new;%IW26;intake-b;0..5 bar\nNEW_2;waits;;;',
      ),
    )
    const first = compare(table!).differences.filter(({ kind }) => kind !== 'removed')
    const next = doAll(plan, catalog, {
      type: 'batch',
      label: 'Take a list over',
      commands: takeList(first),
    })
    expect(compare(table!, next).differences.filter(({ kind }) => kind !== 'removed')).toEqual([])
    expect(Object.values(next.unplaced).map(({ tag }) => tag)).toContain('NEW_2')
  })
})

describe('the list that goes out comes back as it was', () => {
  test.each<[string, () => Promise<Uint8Array> | Uint8Array]>([
    ['CSV', () => writeCsv(ioList(derived))],
    [
      'XLSX',
      () =>
        writeXlsx([ioTable(ioList(derived))], {
          project: 'Demo',
          revision: 1,
          blockers: 0,
          safetySignature: null,
          at: null,
        }),
    ],
  ])('%s', async (_, write) => {
    const [table] = await tables(await write())
    const { differences, same } = compare(table!)
    expect(differences).toEqual([])
    expect(same).toBe(ioList(derived).length)
  })
  test('also with texts that a spreadsheet would take for formulas', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(
          '=A1+B2-K3',
          '+10 V',
          '-5',
          '@home',
          'plain',
          '"quoted"; with separator',
          'two\nlines',
          '=SUM(1,2)',
          '-1,5 mA',
          '=x\ny, z',
          'inner  spaces, too',
        ),
        async (comment) => {
          const changed = doAll(plan, catalog, {
            type: 'editSignals',
            edits: [{ id: 's041', comment }],
          })
          const csv = writeCsv(ioList(derive(changed, catalog)))
          const [table] = await tables(csv)
          expect(compare(table!, changed).differences).toEqual([])
          expect(new TextDecoder().decode(csv)).not.toMatch(/(^|,)"?[=@]/m)
        },
      ),
      { numRuns: 24 },
    )
  }, 30_000)
})

describe('a list by position', () => {
  const first = { moduleId: 'screen-1.1', subslot: 1, direction: 'in' as const, offsetBits: 0 }
  const channels = [...listChannels(derived)]
  const free = channels
    .slice(channels.findIndex(({ module }) => module.id === 'screen-1.1'))
    .filter(({ channel, signal }) => kindOfChannel(channel) === 'DI' && (signal?.tag ?? '') === '')
  const placed = (table: ListTable, order: Partial<ListOrder>) =>
    compareList(derived, table, guessMapping(table.headings), {
      by: 'order',
      from: first,
      onlyFree: true,
      sameKind: true,
      ...order,
    }).differences.filter(({ kind }) => kind !== 'removed')

  test('names alone go in order from a channel on, over free channels of its kind', async () => {
    const names = Array.from({ length: 12 }, (_, i) => `NEW_${i + 1}`)
    const [table] = await tables(bytes(names.join('\n')))
    expect(placed(table!, {}).map(({ tag, where }) => [tag, where])).toEqual(
      names.map((tag, i) => [tag, wordChannelPlace(free[i]!)]),
    )
  })
  test('1,000 of them are compared at once, and what has no room is told', async () => {
    const [table] = await tables(
      bytes(Array.from({ length: 1000 }, (_, i) => `NAME_${i}`).join('\n')),
    )
    const all = placed(table!, {})
    expect(all.filter(({ kind }) => kind === 'added')).toHaveLength(Math.min(1000, free.length))
    if (free.length < 1000) expect(all.at(-1)!.note).toContain('no free channel left')
  })
  test('by running number, gaps stay', async () => {
    const [table] = await tables(bytes('No.;Tag\n1;N_1\n4;N_4\nx;N_X'))
    const from = { moduleId: free[0]!.module.id, ...placeOf(free[0]!.channel) }
    const all = placed(table!, { by: 'number', from, sameKind: false })
    const start = channels.indexOf(free[0]!)
    expect(all.map(({ where, note }) => note || where)).toEqual([
      wordChannelPlace(channels[start]!),
      expect.stringMatching(/./),
      'N_X: "x" is no running number; 1 is the first.',
    ])
  })
  test('by station and position', async () => {
    const view = derived.stations.get('ozone-io')!
    const third = [...channelsOfStation(view)].filter(({ signal }) => !signal)[2]!
    const position = [...channelsOfStation(view)].findIndex(
      ({ channel }) => channel === third.channel,
    )
    const [table] = await tables(
      bytes(`Station;Position in station;Tag\nozone-io;${position + 1};AT_3\nozone-io;999;AT_X`),
    )
    const all = compareList(derived, table!, guessMapping(table!.headings)).differences
    expect(
      all.filter(({ kind }) => kind !== 'removed').map(({ where, note }) => note || where),
    ).toEqual([
      wordChannelPlace({ ...third, view }),
      'There is no channel at position 999 of ozone-io.',
    ])
  })
})

import {
  kindNamed,
  mediumNames,
  octetTypes,
  networkKindNames,
  sheetTypes,
  unusedType,
  type WrittenSheet,
} from '@kataxis/core'
import type { FieldColumn } from './FieldRows.vue'

const types = Object.keys(sheetTypes)
/** With bits that mean nothing. */
const dataTypes = [...types, ...octetTypes, unusedType]

type Head = NonNullable<WrittenSheet['head']>
type Record = NonNullable<Head['parameters']>[number]

interface SheetList<Row> {
  readonly add: string
  readonly blank: Row
  readonly columns: readonly FieldColumn[]
}
interface SheetLists {
  readonly data: SheetList<NonNullable<Head['inputs']>[number]>
  readonly parameters: SheetList<NonNullable<Record['parameters']>[number]>
  readonly startSequence: SheetList<
    NonNullable<NonNullable<WrittenSheet['modbus']>['startSequence']>[number]
  >
  readonly registers: SheetList<NonNullable<WrittenSheet['registers']>[number]>
  readonly dataSets: SheetList<NonNullable<WrittenSheet['dataSets']>[number]>
  readonly contents: SheetList<
    NonNullable<NonNullable<WrittenSheet['dataSets']>[number]['contents']>[number]
  >
  readonly variants: SheetList<NonNullable<WrittenSheet['variants']>[number]>
  readonly networkPorts: SheetList<NonNullable<WrittenSheet['networkPorts']>[number]>
  readonly radio: SheetList<NonNullable<WrittenSheet['radio']>[number]>
  readonly interfaces: SheetList<
    NonNullable<NonNullable<WrittenSheet['controller']>['interfaces']>[number]
  >
}

/** What each list of a device sheet holds in a line, and what a new line begins with. */
export const sheetLists: SheetLists = {
  data: {
    add: '+ value',
    blank: { name: '', type: 'bit', count: 1 },
    columns: [
      { key: 'count', label: 'how many', kind: 'number', width: '50px' },
      { key: 'type', label: 'type', kind: dataTypes, width: '86px' },
      { key: 'name', label: 'what it means', kind: 'text', width: 'minmax(100px, 1fr)' },
      { key: 'range', label: 'range', kind: 'said', width: '84px' },
      { key: 'statusOf', label: 'quality of', kind: 'said', width: '84px' },
      { key: 'port', label: 'port', kind: 'number', width: '46px', optional: true },
    ],
  },
  parameters: {
    add: '+ parameter',
    blank: {
      key: '',
      name: '',
      type: 'uint8',
      byte: 0,
      bit: 0,
      default: 0,
      allowed: '',
      texts: {},
      unit: '',
      group: '',
    },
    columns: [
      { key: 'key', label: 'key', kind: 'code', width: '66px' },
      { key: 'name', label: 'name', kind: 'text', width: 'minmax(64px, 1fr)' },
      { key: 'type', label: 'type', kind: types, width: '70px' },
      { key: 'byte', label: 'byte', kind: 'number', width: '42px' },
      { key: 'bit', label: 'bit', kind: 'number', width: '42px' },
      { key: 'default', label: 'default', kind: 'number', width: '48px' },
      { key: 'allowed', label: 'allowed, 0..7 9', kind: 'code', width: '56px' },
      { key: 'texts', label: '0=off, 1=on', kind: 'texts', width: 'minmax(64px, 1fr)' },
      { key: 'unit', label: 'unit', kind: 'text', width: '42px' },
      { key: 'group', label: 'heading', kind: 'text', width: '60px' },
      { key: 'repeat', label: '8 every 2 bytes', kind: 'repeat', width: '76px' },
    ],
  },
  registers: {
    add: '+ register',
    blank: { name: '', table: 'holding-register', address: 0, type: 'uint16', access: 'write' },
    columns: [
      {
        key: 'table',
        label: 'table',
        kind: ['coil', 'discrete-input', 'input-register', 'holding-register'],
        width: '130px',
      },
      { key: 'address', label: 'address', kind: 'number', width: '76px' },
      { key: 'type', label: 'type', kind: types, width: '90px' },
      { key: 'access', label: 'access', kind: ['read', 'write', 'both'], width: '80px' },
      { key: 'name', label: 'what it means', kind: 'text', width: 'minmax(120px, 1fr)' },
    ],
  },
  startSequence: {
    add: '+ step',
    blank: { table: 'holding-register', address: 0, value: 0, note: '' },
    columns: [
      { key: 'table', label: 'table', kind: ['coil', 'holding-register'], width: '130px' },
      { key: 'address', label: 'address', kind: 'number', width: '76px' },
      { key: 'value', label: 'value', kind: 'number', width: '76px' },
      { key: 'note', label: 'why', kind: 'text', width: 'minmax(120px, 1fr)' },
    ],
  },
  dataSets: {
    add: '+ data set',
    blank: {
      key: '',
      name: '',
      outputInstance: 0,
      outputBytes: 0,
      inputInstance: 0,
      inputBytes: 0,
      configInstance: 0,
      configBytes: 0,
      runIdleHeader: true,
    },
    columns: [
      { key: 'key', label: 'key', kind: 'code', width: '66px' },
      { key: 'name', label: 'name', kind: 'text', width: 'minmax(64px, 1fr)' },
      { key: 'outputInstance', label: 'out instance', kind: 'number', width: '56px' },
      { key: 'outputBytes', label: 'bytes out', kind: 'number', width: '52px' },
      { key: 'inputInstance', label: 'in instance', kind: 'number', width: '56px' },
      { key: 'inputBytes', label: 'bytes in', kind: 'number', width: '52px' },
      { key: 'configInstance', label: 'configuration instance', kind: 'number', width: '56px' },
      { key: 'configBytes', label: 'configuration bytes', kind: 'number', width: '52px' },
      { key: 'runIdleHeader', label: 'run/idle', kind: 'yes', width: '76px' },
    ],
  },
  contents: {
    add: '+ content',
    blank: { name: '', direction: 'in', byte: 0, bytes: 1 },
    columns: [
      { key: 'name', label: 'what it is', kind: 'text', width: 'minmax(120px, 1fr)' },
      { key: 'direction', label: 'direction', kind: ['in', 'out'], width: '76px' },
      { key: 'byte', label: 'from octet', kind: 'number', width: '90px' },
      { key: 'bytes', label: 'octets', kind: 'number', width: '76px' },
    ],
  },
  variants: {
    add: '+ variant',
    blank: { orderNumber: '', name: '' },
    columns: [
      { key: 'orderNumber', label: 'order number', kind: 'code', width: '110px' },
      { key: 'name', label: 'name', kind: 'text', width: 'minmax(100px, 1fr)' },
      { key: 'slots', label: 'slots', kind: 'number', width: '64px', optional: true },
      { key: 'supplyMa', label: 'supplies, mA', kind: 'number', width: '90px', optional: true },
      { key: 'widthMm', label: 'width, mm', kind: 'number', width: '80px', optional: true },
    ],
  },
  networkPorts: {
    add: '+ port',
    blank: { name: '', medium: 'copper' },
    columns: [
      { key: 'name', label: 'name', kind: 'text', width: 'minmax(120px, 1fr)' },
      { key: 'medium', label: 'medium', kind: mediumNames, width: '150px' },
      { key: 'segment', label: 'line', kind: 'number', width: '70px', optional: true },
      { key: 'terminates', label: 'terminates', kind: 'yes', width: '104px' },
    ],
  },
  radio: {
    add: '+ pace',
    blank: { everyS: 8, devices: 1 },
    columns: [
      { key: 'everyS', label: 'sent every, s', kind: 'number', width: '110px' },
      { key: 'devices', label: 'devices at most', kind: 'number', width: '120px' },
    ],
  },
  interfaces: {
    add: '+ interface',
    blank: { name: '', kind: 'profinet', maxStations: null, ports: null, maxPackets: null },
    columns: [
      { key: 'name', label: 'name', kind: 'text', width: 'minmax(120px, 1fr)' },
      {
        key: 'kind',
        label: 'network',
        kind: networkKindNames.filter((kind) => kindNamed(kind).wiring),
        width: '120px',
      },
      {
        key: 'maxStations',
        label: 'most stations',
        kind: 'number',
        width: '110px',
        optional: true,
      },
      { key: 'ports', label: 'ports', kind: 'number', width: '72px', optional: true },
      { key: 'maxPackets', label: 'packets/s', kind: 'number', width: '90px', optional: true },
    ],
  },
}

import { makeDevice, blankFile, makeModule } from '../../catalog/blank'
import type { Device, Diagnosis, Module, Slot, Submodule, Subslot } from '../../catalog/model'
import { Problems, type Position } from '../../problem'
import type { FormatReading, ReadOptions } from '../format'
import { countValues, inRanges, values, type ValueRange } from '../../value-list'
import { child, children, listed, readXmlRecords, type XmlElement } from '../xml-records'
import { Attributes } from '../xml-attributes'
import { DataItems } from './data-items'
import { Records } from './records'
import { Texts } from '../xml-texts'

/** Where something may, does and must stand; thousands of references have the same. */
interface Placing {
  readonly allowed: ValueRange[] | null
  readonly used: ValueRange[] | null
  readonly fixed: ValueRange[] | null
}

interface Reference {
  readonly target: string
  readonly placing: Placing
  readonly at: Position
}

/** Things that can be plugged, waiting until all of them are known. */
interface Sockets {
  readonly owner: { slots?: readonly Slot[]; subslots: readonly Subslot[] }
  readonly numbers: number[]
  readonly references: readonly Reference[]
  readonly kind: 'slot' | 'subslot'
}

const maxSlots = 65536
/** Subslots that one submodule is built into at once. */
const maxBuiltIn = 1000

/** Reads a GSDML file (ISO 15745-4, GSDML schema 2.x; clauses from memory). Problems carry line and
 *  column; `readable` is false where the text is no GSDML at all or was cut off. */
export function readGsdml(
  text: string,
  fileName: string,
  { language = null }: ReadOptions = {},
): FormatReading {
  const problems = new Problems()
  const attributes = new Attributes(problems)
  const texts = new Texts(problems, language, { id: 'TextId', value: 'Value' })
  const dataItems = new DataItems(attributes, texts, problems)
  const records = new Records(attributes, texts, problems)
  const vendor = { id: null as number | null, name: '' }
  const family = { main: '', product: '' }
  const devices: Device[] = []
  const modules: Module[] = []
  const submodules: Submodule[] = []
  const diagnoses: Diagnosis[] = []
  const categories = new Map<string, { name: string }>()
  const categoryWishes: { target: { category: string | null }; id: string }[] = []
  const sockets: Sockets[] = []
  const placings = new Map<string, Placing>()
  const keys = new Set<string>()
  const pictures = new Map<string, string>()
  const pictureWishes: string[][] = []
  let deviceId = 0
  let profileVersion: string | null = null
  let rootSeen = ''
  let identitySeen = false

  const failure = readXmlRecords(text, {
    problems,
    shared: new Set(['Input', 'Output', 'RecordDataList']),
    records: {
      DeviceIdentity: (element) => {
        identitySeen = true
        vendor.id = attributes.required(element, 'VendorID', [0, 65535])
        deviceId = attributes.required(element, 'DeviceID', [0, 65535])
        vendor.name = child(element, 'VendorName')?.attributes['Value'] ?? ''
      },
      Family: (element) => {
        family.main = element.attributes['MainFamily'] ?? ''
        family.product = element.attributes['ProductFamily'] ?? ''
      },
      DeviceAccessPointItem: (element) => devices.push(readAccessPoint(element)),
      ModuleItem: (element) => modules.push(readModule(element)),
      SubmoduleItem: (element) => submodules.push(readSubmodule(element, 'SubmoduleIdentNumber')),
      PortSubmoduleItem: (element) =>
        submodules.push(readSubmodule(element, 'SubmoduleIdentNumber')),
      ValueItem: (element) => records.readValueItem(element),
      CategoryItem: (element) => {
        const category = { name: '' }
        texts.want(category, 'name', element.attributes['TextId'], element)
        categories.set(attributes.key(element), category)
      },
      ChannelDiagItem: (element) => readDiagnosis(element, 'channel', 'ErrorType'),
      UnitDiagTypeItem: (element) => readDiagnosis(element, 'unit', 'UserStructureIdentifier'),
      GraphicItem: (element) =>
        pictures.set(attributes.key(element), element.attributes['GraphicFile'] ?? ''),
      Text: (element) => texts.readText(element),
    },
    outside: (element) => {
      const { name } = element
      if (rootSeen === '') {
        rootSeen = name
        if (name !== 'ISO15745Profile') {
          problems.error(
            'gsdml.root',
            `The file begins with <${name}>; a GSDML file begins with <ISO15745Profile>.`,
            element,
          )
        }
      }
      if (name === 'PrimaryLanguage' || name === 'Language')
        texts.enterLanguage(element.attributes['xml:lang'] ?? null, name === 'PrimaryLanguage')
      const schema = /GSDML-DeviceProfile-v([\d.]+)\.xsd/i.exec(
        element.attributes['xsi:schemaLocation'] ?? '',
      )
      if (schema) profileVersion = schema[1]!
    },
  })

  // What a broken file would have gone on to say is not known, so its open references are no errors
  // of their own.
  if (failure)
    return {
      readable: false,
      file: {
        ...blankFile,
        format: 'gsdml',
        formatVersion: profileVersion,
        vendor,
        family,
        problems: [...problems.list, failure],
      },
    }
  if (!identitySeen && rootSeen === 'ISO15745Profile')
    problems.error('gsdml.identity', 'The file has no DeviceIdentity; it is needed.', {
      line: 1,
      column: 1,
    })
  texts.settle()
  records.settle()
  for (const list of pictureWishes)
    for (const [i, id] of list.entries()) list[i] = pictures.get(id) ?? id
  for (const wish of categoryWishes) wish.target.category = categories.get(wish.id)?.name ?? wish.id
  for (const socket of sockets)
    fillSockets(
      socket,
      new Set((socket.kind === 'slot' ? modules : submodules).map(({ key }) => key)),
      problems,
    )

  const named = /^GSDML-V([\d.]+)-/i.exec(fileName)?.[1] ?? null
  if (named !== null && profileVersion !== null && Number(named) !== Number(profileVersion)) {
    problems.warning(
      'gsdml.filename',
      `The file name says schema ${named}, the content ${profileVersion}.`,
      { line: 1, column: 1 },
    )
  }
  problems.list.sort((a, b) => (a.line ?? 0) - (b.line ?? 0))
  return {
    readable: identitySeen && rootSeen === 'ISO15745Profile',
    file: {
      format: 'gsdml',
      formatVersion: named ?? profileVersion,
      vendor,
      family,
      languages: texts.languages,
      devices,
      modules,
      submodules,
      diagnoses,
      problems: problems.list,
    },
  }

  function uniqueKey(element: XmlElement): string {
    const key = attributes.key(element)
    if (keys.has(key))
      problems.error('id.duplicate', `ID "${key}" stands more than once in the file.`, element)
    keys.add(key)
    return key
  }

  function readAccessPoint(element: XmlElement): Device {
    const info = child(element, 'ModuleInfo')
    const io = child(element, 'IOConfigData')
    const inputBytes = attributes.number(io, 'MaxInputLength')
    const outputBytes = attributes.number(io, 'MaxOutputLength')
    const interval = attributes.number(element, 'MinDeviceInterval')
    const physical = attributes.list(element, 'PhysicalSlots') ?? []
    const own = attributes.list(element, 'FixedInSlots') ?? [[0, 0]]
    const slotNumbers = numbersOf(physical, element).filter((slot) => !inRanges(own, slot))
    const device = makeDevice({
      key: uniqueKey(element),
      name: '',
      orderNumber: valueOf(info, 'OrderNumber'),
      firmware: valueOf(info, 'SoftwareRelease'),
      hardware: valueOf(info, 'HardwareRelease'),
      protocol: 'profinet' as const,
      identity: {
        profinet: {
          vendorId: 0,
          deviceId: 0,
          moduleIdent: attributes.required(element, 'ModuleIdentNumber'),
        },
      },
      limits: {
        inputBytes,
        outputBytes,
        // Left out, the total is the sum of both directions (GSDML specification, IOConfigData;
        // from memory).
        dataBytes:
          attributes.number(io, 'MaxDataLength') ??
          (inputBytes !== null && outputBytes !== null ? inputBytes + outputBytes : null),
        modules: slotNumbers.length,
        parameterBytes: null,
      },
      slots: [] as Slot[],
      subslots: [] as Subslot[],
      submodules: [...builtIn(element), ...systemDefined(element)],
      profinet: {
        dnsCompatibleName: element.attributes['DNS_CompatibleName'] ?? null,
        minDeviceIntervalUs: interval === null ? null : interval * 31.25,
        conformanceClass:
          child(element, 'CertificationInfo')?.attributes['ConformanceClass'] ?? null,
        maxRecordBytes: attributes.number(element, 'MaxSupportedRecordSize'),
        limitsIncludeStatus: attributes.boolean(io, 'ApplicationLengthIncludesIOxS'),
        ...readCapabilities(element),
      },
    })
    device.identity.profinet.vendorId = vendor.id ?? 0
    device.identity.profinet.deviceId = deviceId
    wantInfo(device, info, element)
    sockets.push({
      owner: device,
      numbers: slotNumbers,
      kind: 'slot',
      references: listed(element, 'UseableModules', 'ModuleItemRef').map((reference) =>
        readReference(reference, 'ModuleItemTarget', 'Slots'),
      ),
    })
    addSubslots(device, element)
    return device
  }

  /** What the access point and its interface can do (GSDML specification, DeviceAccessPointItem and
   *  InterfaceSubmoduleItem; from memory). */
  function readCapabilities(element: XmlElement) {
    const interfaceItem = child(
      child(element, 'SystemDefinedSubmoduleList'),
      'InterfaceSubmoduleItem',
    )
    const properties =
      child(interfaceItem, 'ApplicationRelations') ?? child(element, 'ApplicationRelations')
    const timing = child(properties, 'TimingProperties')
    const redundancy = child(interfaceItem, 'MediaRedundancy')
    const system = child(element, 'SystemRedundancy')
    const clock = (factor: number) => factor * 31.25
    return {
      addressAssignment: words(element.attributes['AddressAssignment'] ?? 'DCP'),
      applicationRelations: attributes.number(element, 'NumberOfAR', [1, 65_535]),
      isShareable: attributes.boolean(element, 'SharedDeviceSupported'),
      checksDeviceId: attributes.boolean(element, 'CheckDeviceID_Allowed'),
      reportsNeighbours: attributes.boolean(element, 'LLDP_NoD_Supported'),
      sendClocksUs: timing
        ? numbersOf(attributes.list(timing, 'SendClock') ?? [[32, 32]], timing).map(clock)
        : [],
      reductionRatios: timing
        ? numbersOf(attributes.list(timing, 'ReductionRatio') ?? [], timing)
        : [],
      realTimeClasses: words(
        interfaceItem?.attributes['SupportedRT_Classes'] ??
          interfaceItem?.attributes['SupportedRT_Class'] ??
          '',
      ),
      mediaRedundancyRoles: redundancy
        ? words(redundancy.attributes['SupportedRole'] ?? 'Client')
        : [],
      systemRedundancy: system ? (system.attributes['DeviceType'] ?? 'supported') : null,
      isochronous: attributes.boolean(interfaceItem, 'IsochroneModeSupported'),
      pictures: wantPictures(
        listed(element, 'Graphics', 'GraphicItemRef').map(
          (reference) => reference.attributes['GraphicItemTarget'] ?? '',
        ),
      ),
    }
  }

  /** Their names stand at the end of the file. */
  function wantPictures(ids: string[]): string[] {
    pictureWishes.push(ids)
    return ids
  }

  function readModule(element: XmlElement): Module {
    const info = child(element, 'ModuleInfo')
    const built = builtIn(element)
    const module = makeModule({
      key: uniqueKey(element),
      name: '',
      orderNumber: valueOf(info, 'OrderNumber'),
      ident: attributes.required(element, 'ModuleIdentNumber'),
      inputBytes: built.reduce((sum, submodule) => sum + submodule.inputBytes, 0),
      outputBytes: built.reduce((sum, submodule) => sum + submodule.outputBytes, 0),
      submodules: child(element, 'SystemDefinedSubmoduleList')
        ? [...built, ...systemDefined(element)]
        : built,
    })
    wantInfo(module, info, element)
    const category = info?.attributes['CategoryRef']
    if (category !== undefined && info) categoryWishes.push({ target: module, id: category })
    addSubslots(module, element)
    return module
  }

  function builtIn(owner: XmlElement): Submodule[] {
    return listed(owner, 'VirtualSubmoduleList', 'VirtualSubmoduleItem').flatMap((element) => {
      const stated = attributes.list(element, 'FixedInSubslots')
      const subslots = stated ? numbersOf(stated, element, maxBuiltIn) : [1]
      const submodule = readSubmodule(element, 'SubmoduleIdentNumber', subslots[0] ?? 1)
      return [submodule, ...subslots.slice(1).map((subslot) => ({ ...submodule, subslot }))]
    })
  }

  /** Interface (default subslot 32768) and ports (from 32769). */
  function systemDefined(owner: XmlElement): Submodule[] {
    const list = child(owner, 'SystemDefinedSubmoduleList')
    return (list?.children ?? [])
      .filter(({ name }) => name === 'InterfaceSubmoduleItem' || name === 'PortSubmoduleItem')
      .map((element) =>
        readSubmodule(
          element,
          'SubmoduleIdentNumber',
          attributes.number(element, 'SubslotNumber', [0, 65535]) ??
            (element.name === 'InterfaceSubmoduleItem' ? 32768 : 32769),
        ),
      )
  }

  function readSubmodule(
    element: XmlElement,
    identAttribute: string,
    subslot: number | null = null,
  ): Submodule {
    const io = child(element, 'IOData')
    const input = dataItems.read(child(io, 'Input'))
    const output = dataItems.read(child(io, 'Output'))
    const submodule = {
      key: subslot === null ? uniqueKey(element) : attributes.key(element),
      name: '',
      subslot,
      ident: attributes.required(element, identAttribute),
      inputBytes: input.bytes,
      outputBytes: output.bytes,
      inputs: input.items,
      outputs: output.items,
      parameters: records.readList(element),
      safety: attributes.boolean(element, 'PROFIsafeSupported'),
    }
    const info = child(element, 'ModuleInfo')
    texts.want(
      submodule,
      'name',
      child(info, 'Name')?.attributes['TextId'] ?? element.attributes['TextId'],
      info ?? element,
    )
    return submodule
  }

  function readDiagnosis(
    element: XmlElement,
    kind: Diagnosis['kind'],
    codeAttribute: string,
  ): void {
    const diagnosis = {
      kind,
      code: attributes.required(element, codeAttribute),
      name: '',
      help: '',
    }
    for (const [property, name] of [
      ['name', 'Name'],
      ['help', 'Help'],
    ] as const)
      texts.want(diagnosis, property, child(element, name)?.attributes['TextId'], element)
    diagnoses.push(diagnosis)
  }

  function wantInfo(
    target: { name: string; info: string },
    info: XmlElement | undefined,
    owner: XmlElement,
  ): void {
    const name = child(info, 'Name')
    const words = child(info, 'InfoText')
    if (!name)
      problems.error('name.missing', `${owner.name} has no ModuleInfo/Name; it is needed.`, owner)
    else texts.want(target, 'name', name.attributes['TextId'], name)
    if (words) texts.want(target, 'info', words.attributes['TextId'], words)
  }

  function readReference(
    element: XmlElement,
    targetAttribute: string,
    where: 'Slots' | 'Subslots',
  ): Reference {
    const [allowed, used, fixed] = [`AllowedIn${where}`, `UsedIn${where}`, `FixedIn${where}`]
    const written = [allowed, used, fixed].map((name) => element.attributes[name]).join('|')
    let placing = placings.get(written)
    if (!placing) {
      placing = {
        allowed: attributes.list(element, allowed),
        used: attributes.list(element, used),
        fixed: attributes.list(element, fixed),
      }
      placings.set(written, placing)
    }
    return { target: element.attributes[targetAttribute] ?? '', placing, at: element.place }
  }

  function addSubslots(owner: Sockets['owner'], element: XmlElement): void {
    const references = listed(element, 'UseableSubmodules', 'SubmoduleItemRef').map((reference) =>
      readReference(reference, 'SubmoduleItemTarget', 'Subslots'),
    )
    if (references.length === 0) return
    const physical = attributes.list(element, 'PhysicalSubslots')
    const named = [...new Set(references.map(({ placing }) => placing))].flatMap(
      ({ allowed, fixed, used }) => [...(allowed ?? []), ...(fixed ?? []), ...(used ?? [])],
    )
    sockets.push({
      owner,
      numbers: [...new Set(numbersOf(physical ?? named, element))],
      kind: 'subslot',
      references,
    })
  }

  function numbersOf(ranges: ValueRange[], at: Position, most = maxSlots): number[] {
    if (countValues(ranges) > most) {
      problems.error(
        'slots.count',
        `The value list names ${countValues(ranges)} slots; at most ${most} make sense.`,
        at,
      )
      return []
    }
    return [...values(ranges)]
  }
}

/** Sets for every slot what may, must and does stand there at the start. `Fixed` alone means: only
 *  there. Slots that take the same modules share one list. */
function fillSockets(socket: Sockets, known: ReadonlySet<string>, problems: Problems): void {
  const references = socket.references.filter(({ target, at }) => {
    if (!known.has(target))
      problems.error(
        `reference.${socket.kind === 'slot' ? 'module' : 'submodule'}`,
        `"${target}" is named here but does not stand in the file.`,
        at,
      )
    return known.has(target)
  })
  const placings = [...new Set(references.map(({ placing }) => placing))]
  const fixedOnes = references.filter(({ placing }) => placing.fixed)
  const usedOnes = references.filter(({ placing }) => placing.used)
  const lists = new Map<string, string[]>()
  const contentOf = (slot: number) => {
    const names = (ranges: ValueRange[] | null) => ranges !== null && inRanges(ranges, slot)
    const fitting = placings.map(
      ({ allowed, used, fixed }) =>
        (!allowed && !used && !fixed) || names(allowed) || names(used) || names(fixed),
    )
    const key = fitting.map(Number).join('')
    let allowed = lists.get(key)
    if (!allowed) {
      const here = new Set(placings.filter((_, i) => fitting[i]))
      lists.set(
        key,
        (allowed = references
          .filter(({ placing }) => here.has(placing))
          .map(({ target }) => target)),
      )
    }
    return {
      fixed: fixedOnes.findLast(({ placing }) => names(placing.fixed))?.target ?? null,
      default: usedOnes.findLast(({ placing }) => names(placing.used))?.target ?? null,
      allowed,
    }
  }
  // Between two numbers at which some range begins or ends all slots are alike.
  const bounds = new Set(
    placings.flatMap(({ allowed, used, fixed }) =>
      [allowed, used, fixed].flatMap((ranges) =>
        (ranges ?? []).flatMap(([from, to]) => [from, to + 1]),
      ),
    ),
  )
  let content: ReturnType<typeof contentOf> | null = null
  let next = -1
  const entries = [...socket.numbers]
    .sort((a, b) => a - b)
    .map((slot) => {
      if (!content || slot !== next || bounds.has(slot)) content = contentOf(slot)
      next = slot + 1
      return { slot, ...content }
    })
  if (socket.kind === 'slot') socket.owner.slots = entries
  else socket.owner.subslots = entries.map(({ slot: subslot, ...entry }) => ({ subslot, ...entry }))
}

/** A list of words as the schema's token lists are written: by semicolons. */
function words(text: string): string[] {
  return text.split(/[;\s]+/).filter((word) => word !== '')
}

function valueOf(info: XmlElement | undefined, name: string): string | null {
  return children(info, name)[0]?.attributes['Value'] ?? null
}

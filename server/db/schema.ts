import { sql } from 'drizzle-orm'
import {
  bigint,
  boolean,
  customType,
  doublePrecision,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
  uniqueIndex,
} from 'drizzle-orm/pg-core'
import type {
  AddressMap,
  ByteOrders,
  ChosenLayouts,
  Command,
  DeviceIdentity,
  Difficulty,
  Feed,
  FileSummary,
  ImageArea,
  IParameterSums,
  JobState,
  JobView,
  Monitored,
  NetworkSettings,
  NotationName,
  NumberPool,
  PackageFile,
  PackedFile,
  ParameterChoices,
  ParameterSet,
  Plugged,
  PortLinks,
  Ports,
  ProjectRow,
  RehearsalAction,
  ReportedDevice,
  RoleName,
  RowChange,
  SignalFacts,
  SignalPlace,
  SiteDifference,
  StationSettings,
  SwitchBank,
} from '@kataxis/core'

/** `repair`: rows of a damaged project put in order, after which everybody loads the plan anew. */
export type ChangeKind = 'do' | 'undo' | 'redo' | 'back' | 'repair'

const bytea = customType<{ data: Uint8Array; driverData: Buffer }>({
  dataType: () => 'bytea',
  toDriver: (bytes) => Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength),
  fromDriver: (buffer) => new Uint8Array(buffer),
})

/** What is said of a project as a whole and stands outside its plan. */
const keeping = {
  /** When the revision was made that it came in with, where its file said so. */
  cameWithAt: timestamp('came_with_at', { withTimezone: true }),
  archivedAt: timestamp('archived_at', { withTimezone: true }),
  /** It can be restored for some days. */
  deletedAt: timestamp('deleted_at', { withTimezone: true }),
  /** Whether everybody with an account may enter, in the account's role. */
  isOpen: boolean('is_open').notNull().default(true),
  /** Whether its stations were linked, as those of older programs were not; see `old-links.ts`. */
  isWired: boolean('is_wired').notNull().default(true),
}

export const projects = pgTable('projects', {
  id: text().primaryKey(),
  name: text().notNull(),
  tagLength: integer('tag_length').notNull(),
  tagCase: text('tag_case').$type<ProjectRow['tagCase']>().notNull().default('any'),
  reservedWords: jsonb('reserved_words').$type<string[]>().notNull().default([]),
  sparePercent: integer('spare_percent').notNull().default(0),
  railMm: integer('rail_mm').notNull().default(0),
  packsBits: boolean('packs_bits').notNull().default(false),
  supplements: jsonb().$type<string[]>().notNull().default([]),
  parameterSets: jsonb('parameter_sets').$type<ParameterSet[]>().notNull().default([]),
  safetyRelease: jsonb('safety_release').$type<ProjectRow['safetyRelease']>(),
  meanings: jsonb().$type<ProjectRow['meanings']>().notNull().default([]),
  ownFormats: jsonb('own_formats').$type<ProjectRow['ownFormats']>().notNull().default({}),
  moduleFormats: jsonb('module_formats').$type<ProjectRow['moduleFormats']>().notNull().default({}),
  dataLayouts: jsonb('data_layouts').$type<ProjectRow['dataLayouts']>().notNull().default({}),
  revision: integer().notNull().default(0),
  createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
  ...keeping,
})

/** Who works on a project that has members only, and in which role; see `isOpen`. */
export const members = pgTable(
  'members',
  {
    projectId: text('project_id')
      .notNull()
      .references(() => projects.id, { onDelete: 'cascade' }),
    userId: text('user_id')
      .notNull()
      .references(() => users.id, { onDelete: 'cascade' }),
    role: text().$type<RoleName>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.projectId, table.userId] })],
)

/** Every table of the plan: rows of one project by id. */
const owned = {
  projectId: text('project_id')
    .notNull()
    .references(() => projects.id, { onDelete: 'cascade' }),
  id: text().notNull(),
}

/** Older rows that contend for a slot or channel and wait to be repaired; only the migration that
 *  brought the unique constraints sets it. */
const aside = { standsAside: boolean('stands_aside').notNull().default(false) }

/* What the tables of the plan also have, written by hand in migrations/0011_valid_plans.sql since
   it is deferred to the end of the transaction: foreign keys down the chain of owners, one module a
   slot, one signal a channel, a signal's place that is there. */

export const controllers = pgTable(
  'controllers',
  {
    ...owned,
    name: text().notNull(),
    position: doublePrecision().notNull(),
    inputBytes: integer('input_bytes').notNull(),
    outputBytes: integer('output_bytes').notNull(),
    aligned: boolean().notNull(),
    notation: text().$type<NotationName>().notNull().default('iec'),
    firstInput: integer('first_input').notNull().default(0),
    firstOutput: integer('first_output').notNull().default(0),
    reserveBytes: integer('reserve_bytes').notNull().default(0),
    reservePercent: integer('reserve_percent').notNull().default(0),
    areas: jsonb().$type<ImageArea[]>().notNull().default([]),
    byteOrder: text('byte_order')
      .$type<'network' | 'little' | 'big'>()
      .notNull()
      .default('network'),
  },
  (table) => [primaryKey({ columns: [table.projectId, table.id] })],
)

export const networks = pgTable(
  'networks',
  {
    ...owned,
    controllerId: text('controller_id').notNull(),
    name: text().notNull(),
    position: doublePrecision().notNull(),
    cable: text().notNull().default(''),
    pool: jsonb().$type<NumberPool | null>(),
    namePattern: text('name_pattern').notNull().default(''),
    tied: boolean().notNull().default(false),
    ports: jsonb().$type<Ports>().notNull().default({}),
    settings: jsonb().$type<NetworkSettings>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.projectId, table.id] })],
)

export const stations = pgTable(
  'stations',
  {
    ...owned,
    networkId: text('network_id').notNull(),
    position: doublePrecision().notNull(),
    name: text().notNull(),
    deviceNumber: integer('device_number').notNull(),
    settings: jsonb().$type<StationSettings>().notNull(),
    file: text().notNull(),
    device: text().notNull(),
    connection: text().notNull().default(''),
    comment: text().notNull(),
    railMm: integer('rail_mm').notNull().default(0),
    plugged: jsonb().$type<Plugged>().notNull().default({}),
    layouts: jsonb().$type<ChosenLayouts>().notNull().default({}),
    packsBits: boolean('packs_bits'),
    reported: jsonb().$type<ReportedDevice[] | null>(),
    switches: jsonb().$type<SwitchBank | null>(),
    links: jsonb().$type<PortLinks>().notNull().default({}),
    ports: jsonb().$type<Ports>().notNull().default({}),
    feed: jsonb().$type<Feed | null>(),
    secondFeed: jsonb('second_feed').$type<Feed | null>(),
    orders: jsonb().$type<ByteOrders>().notNull().default({}),
    values: jsonb().$type<ParameterChoices>().notNull().default({}),
    iParameterSums: jsonb('i_parameter_sums').$type<IParameterSums>().notNull().default({}),
    monitored: jsonb().$type<Monitored>().notNull().default({}),
    addresses: jsonb().$type<AddressMap>().notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.projectId, table.id] }),
    index('stations_file').on(table.file),
  ],
)

export const modules = pgTable(
  'modules',
  {
    ...owned,
    stationId: text('station_id').notNull(),
    slot: integer().notNull(),
    identity: jsonb().$type<DeviceIdentity | null>(),
    sendsEveryS: doublePrecision('sends_every_s'),
    feed: jsonb().$type<Feed | null>(),
    module: text().notNull(),
    plugged: jsonb().$type<Plugged>().notNull().default({}),
    layouts: jsonb().$type<ChosenLayouts>().notNull().default({}),
    orders: jsonb().$type<ByteOrders>().notNull().default({}),
    values: jsonb().$type<ParameterChoices>().notNull().default({}),
    iParameterSums: jsonb('i_parameter_sums').$type<IParameterSums>().notNull().default({}),
    monitored: jsonb().$type<Monitored>().notNull().default({}),
    addresses: jsonb().$type<AddressMap>().notNull(),
    ...aside,
  },
  (table) => [primaryKey({ columns: [table.projectId, table.id] })],
)

export const signals = pgTable(
  'signals',
  {
    ...owned,
    place: jsonb().$type<SignalPlace | null>(),
    tag: text().notNull(),
    comment: text().notNull(),
    terminal: text().notNull(),
    facts: jsonb().$type<SignalFacts>().notNull().default({}),
    ...aside,
  },
  (table) => [primaryKey({ columns: [table.projectId, table.id] })],
)

/** Everything that was ever done to a plan, with its inverse inside (each row's before and
 *  after). */
export const changes = pgTable(
  'changes',
  {
    projectId: text('project_id')
      .notNull()
      .references(() => projects.id, { onDelete: 'cascade' }),
    revision: integer().notNull(),
    commandId: text('command_id').notNull(),
    /** Who did it: its account, null for the program itself, and what its person was called then. */
    userId: text('user_id'),
    author: text().notNull(),
    at: timestamp({ withTimezone: true }).notNull().defaultNow(),
    kind: text().$type<ChangeKind>().notNull(),
    /** The revision that an undo takes back, a redo brings again, or that the plan goes back to. */
    target: integer(),
    undone: boolean().notNull().default(false),
    command: jsonb().$type<Command | null>(),
    changes: jsonb().$type<RowChange[]>().notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.projectId, table.revision] }),
    index('changes_user').on(table.projectId, table.userId, table.revision),
    uniqueIndex('changes_command').on(table.projectId, table.commandId),
  ],
)

/** Revisions that somebody gave a name. */
export const versions = pgTable(
  'versions',
  {
    projectId: text('project_id')
      .notNull()
      .references(() => projects.id, { onDelete: 'cascade' }),
    name: text().notNull(),
    revision: integer().notNull(),
    author: text().notNull(),
    at: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [primaryKey({ columns: [table.projectId, table.name] })],
)

/** Hand-overs: a revision with a name, who signed it, and the package that went out. */
export const releases = pgTable(
  'releases',
  {
    projectId: text('project_id')
      .notNull()
      .references(() => projects.id, { onDelete: 'cascade' }),
    name: text().notNull(),
    revision: integer().notNull(),
    /** Who signed it: the account, and what its person was called then. */
    userId: text('user_id').notNull(),
    author: text().notNull(),
    at: timestamp({ withTimezone: true }).notNull(),
    blockers: integer().notNull(),
    safetySignature: text('safety_signature'),
    files: jsonb().$type<PackageFile[]>().notNull(),
    content: bytea().notNull(),
  },
  (table) => [primaryKey({ columns: [table.projectId, table.name] })],
)

export const descriptionFiles = pgTable('description_files', {
  sha256: text().primaryKey(),
  name: text().notNull(),
  bytes: bigint({ mode: 'number' }).notNull(),
  content: bytea().notNull(),
  catalog: jsonb().$type<PackedFile>().notNull(),
  summary: jsonb().$type<FileSummary>().notNull(),
  /** Version of the reader that made catalog and summary; older ones are made anew from the
   *  content. */
  reader: integer().notNull().default(0),
  addedAt: timestamp('added_at', { withTimezone: true }).notNull().defaultNow(),
})

/** Every head and module of every file, for search while typing. `words` is all of it in lower
 *  case, found by its trigrams. */
export const shelfItems = pgTable(
  'shelf_items',
  {
    sha256: text()
      .notNull()
      .references(() => descriptionFiles.sha256, { onDelete: 'cascade' }),
    kind: text().notNull(),
    key: text().notNull(),
    name: text().notNull(),
    orderNumber: text('order_number'),
    info: text().notNull(),
    words: text().notNull(),
  },
  (table) => [
    index('shelf_items_file').on(table.sha256),
    index('shelf_items_words').using('gin', table.words.op('gin_trgm_ops')),
  ],
)

/** One row: what tells this database from another one, and from itself before a backup was
 *  restored. */
export const instance = pgTable('instance', {
  one: boolean().primaryKey().default(true),
  epoch: text()
    .notNull()
    .default(sql`gen_random_uuid()::text`),
})

/** Wrong sign-ins by what they are counted under: an address, a name, or all together. */
export const signInTries = pgTable('sign_in_tries', {
  key: text().primaryKey(),
  tries: integer().notNull(),
  /** When the next one is heard. */
  nextAt: timestamp('next_at', { withTimezone: true }).notNull(),
  forgottenAt: timestamp('forgotten_at', { withTimezone: true }).notNull(),
})

/** The rehearsal of a project: the plan that its plant was built from, as compressed rows, and what
 *  is otherwise there. Its state follows from its events. */
export const rehearsals = pgTable('rehearsals', {
  projectId: text('project_id')
    .primaryKey()
    .references(() => projects.id, { onDelete: 'cascade' }),
  /** Tells this rehearsal from earlier ones of the project. */
  id: text().notNull(),
  plan: bytea().notNull(),
  difficulty: text().$type<Difficulty>().notNull(),
  seed: bigint({ mode: 'number' }).notNull(),
  differences: jsonb().$type<readonly SiteDifference[]>().notNull(),
  begunBy: text('begun_by').notNull(),
  begunAt: timestamp('begun_at', { withTimezone: true }).notNull().defaultNow(),
  endedAt: timestamp('ended_at', { withTimezone: true }),
})

/** What was done in a rehearsal, in order: any instance makes its state from these. */
export const rehearsalEvents = pgTable(
  'rehearsal_events',
  {
    projectId: text('project_id')
      .notNull()
      .references(() => rehearsals.projectId, { onDelete: 'cascade' }),
    number: integer().notNull(),
    action: jsonb().$type<RehearsalAction>().notNull(),
    author: text().notNull(),
    at: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [primaryKey({ columns: [table.projectId, table.number] })],
)

/** Local accounts; passwords as argon2id. */
export const users = pgTable('users', {
  id: text().primaryKey(),
  /** As it is typed at sign-in, in lower case. */
  name: text().notNull().unique(),
  fullName: text('full_name').notNull(),
  role: text().$type<RoleName>().notNull(),
  password: text().notNull(),
  createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
})

/** Who is signed in: SHA-256 of the cookie's token, and the word that every changing request has to
 *  bring along. */
export const sessions = pgTable(
  'sessions',
  {
    token: text().primaryKey(),
    userId: text('user_id')
      .notNull()
      .references(() => users.id, { onDelete: 'cascade' }),
    csrf: text().notNull(),
    expiresAt: timestamp('expires_at', { withTimezone: true }).notNull(),
  },
  (table) => [index('sessions_user').on(table.userId)],
)

/** Work that takes longer than somebody waits for an answer. */
export const jobs = pgTable(
  'jobs',
  {
    id: text().primaryKey(),
    userId: text('user_id')
      .notNull()
      .references(() => users.id, { onDelete: 'cascade' }),
    projectId: text('project_id').references(() => projects.id, { onDelete: 'cascade' }),
    kind: text().$type<JobView['kind']>().notNull(),
    /** What only its kind knows. */
    wish: jsonb().$type<Readonly<Record<string, string>>>().notNull(),
    words: text().notNull(),
    state: text().$type<JobState>().notNull().default('waiting'),
    done: integer().notNull().default(0),
    total: integer().notNull().default(0),
    sentence: text().notNull().default(''),
    fileName: text('file_name'),
    mediaType: text('media_type'),
    bytes: bigint({ mode: 'number' }),
    arrivals: jsonb().$type<object[]>().notNull().default([]),
    /** Who is at it, and when it was last heard of. */
    instance: text(),
    beatAt: timestamp('beat_at', { withTimezone: true }).notNull().defaultNow(),
    createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [index('jobs_user').on(table.userId)],
)

/** What a job is to read, then what it has written; apart, so that a list of jobs does not read
 *  their files. */
export const jobFiles = pgTable('job_files', {
  jobId: text('job_id')
    .primaryKey()
    .references(() => jobs.id, { onDelete: 'cascade' }),
  content: bytea().notNull(),
})

export const planTables = { controllers, networks, stations, modules, signals } as const

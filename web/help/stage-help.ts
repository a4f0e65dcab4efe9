/** What a stage is for, how to begin, and what is easily overlooked there. */
export interface StageHelp {
  readonly title: string
  readonly isFor: string
  readonly steps: readonly [string, string, string]
  /** Shown at the first visit. */
  readonly hints: readonly [string, string, string]
  /** Its page of the manual, which the program serves. */
  readonly page: string
}

/** By the stage's route. */
export const stageHelp: Readonly<Record<string, StageHelp>> = {
  overview: {
    title: 'Overview',
    isFor: 'Where the project stands, what is wrong and what comes next.',
    steps: [
      'Read the steps from top to bottom; the first one that is not done has a red button.',
      'Press its button to go to the place where it is done.',
      'Come back: the step shows what is left of it.',
    ],
    hints: [
      'The steps stand in working order; each one has a button to its place.',
      'Ctrl+K finds stations, tags and addresses from everywhere.',
      'The line at the bottom counts what is wrong; F8 goes through it.',
    ],
    page: 'using/overview.md',
  },
  shelf: {
    title: 'Shelf',
    isFor: 'Description files: what devices there are, with their modules and parameters.',
    steps: [
      'Add description files, or a ZIP of them.',
      'Look at what was refused, and in which line.',
      'Open a file to see its heads, modules and parameters.',
    ],
    hints: [
      'Files can be dropped anywhere on this page, a whole ZIP too.',
      'A file that is used by a project cannot be deleted.',
      'What a file does not say (terminals, currents) can be added by a device sheet.',
    ],
    page: 'using/shelf.md',
  },
  file: {
    title: 'Description file',
    isFor: 'What one file says: heads, modules, parameters, texts, problems.',
    steps: [
      'Choose a head to see which modules it takes.',
      'Search the modules by name, order number or channels.',
      'Compare it with another version of the same device.',
    ],
    hints: [
      'Problems stand beside the line of the source that they are about.',
      'Texts can be read in every language of the file.',
      'Uses tells which projects need this file.',
    ],
    page: 'using/shelf.md',
  },
  sheet: {
    title: 'Device sheet',
    isFor: 'A device that has no description file, written by its data sheet.',
    steps: [
      'Name the device and its modules.',
      'Enter the channels; their octets are drawn beside them.',
      'Add it to the Shelf.',
    ],
    hints: [
      'The layout is drawn while you type.',
      'A sheet can also add terminals and currents to a described family.',
      'It is kept as a file that other projects can use.',
    ],
    page: 'using/shelf.md',
  },
  board: {
    title: 'Board',
    isFor: 'Controllers, networks, stations and their modules, as they are mounted.',
    steps: [
      'Add a controller with its network, then a station with its head.',
      'Walk to a free slot and type what you want, for example 16 di.',
      'Press Enter on a tile to see and set everything of it.',
    ],
    hints: [
      'Type into a free slot: part of a name, an order number or 16 di.',
      'A place that would refuse a module says why while you drag.',
      'Ctrl+D on a head makes many copies, with names by pattern.',
    ],
    page: 'using/board.md',
  },
  ledger: {
    title: 'Ledger',
    isFor: 'Every channel and signal: tag, comment, terminal, range, address.',
    steps: [
      'Type tags into the cells, paste them, or name them by pattern.',
      'Choose the columns that you need: addresses, signals, wiring.',
      'Open Circuit beside a row to see who feeds whom.',
    ],
    hints: [
      'What you type stays however you leave the cell; Ctrl+Z undoes it.',
      'The filter knows fields: tag:pump slot:2 kind:ai.',
      'A tag of an unassigned signal, typed on a free channel, puts it there.',
    ],
    page: 'using/ledger.md',
  },
  parameters: {
    title: 'Parameters',
    isFor: 'Parameters of a module, or of all modules of a type, and their octets.',
    steps: [
      'Choose a module, or all modules of a type.',
      'Set values; the octets at the right change at once.',
      'Keep the values as a set and apply it to others.',
    ],
    hints: [
      'A point beside a value says that it is not the default.',
      'Which parameters are shown may depend on other values.',
      'Fail-safe parameters are changed by a safety engineer only.',
    ],
    page: 'using/parameters.md',
  },
  networks: {
    title: 'Networks',
    isFor: 'Cables, loads, times and rings, and what a failure costs.',
    steps: [
      'Choose a network; its drawing follows from its links.',
      'Choose a link or a station to say how long, how often and how fast.',
      'Ask what happens if it fails, or look at the table of all failures.',
    ],
    hints: [
      'New stations are linked to the end of the line by themselves.',
      'A list of cables can be pasted: from, port, to, port, medium, length.',
      'What if: several links and stations can fail together.',
    ],
    page: 'using/networks.md',
  },
  layout: {
    title: 'Data layout',
    isFor: 'Names and types for octets and bits that a description leaves unnamed.',
    steps: [
      'Add fields, or paste a table from the data sheet.',
      'Compare the drawing with the data sheet, bit by bit.',
      'Apply it to all of the type, or to this one only.',
    ],
    hints: [
      'A table needs octet, bits, name and type; headings may stand in any order.',
      'A bit within a number stands beside the whole number.',
      'Octets of a port have the type port 1; a device below gives them names.',
    ],
    page: 'using/data-and-ports.md',
  },
  ports: {
    title: 'Ports',
    isFor: 'What every port is used for, and the device below it.',
    steps: [
      'Choose the use of each port; the octets that are sent stand beside it.',
      'Put devices below the ports.',
      'Switch the unused ports off.',
    ],
    hints: [
      'The search narrows the table; the button switches off what is shown.',
      'A device needs no more octets than its port has.',
      'Where ports stand in an assembly is said once for the type, in its data layout.',
    ],
    page: 'using/data-and-ports.md',
  },
  devices: {
    title: 'Devices below',
    isFor: 'Who the devices below a gateway are, and where they stand in its data.',
    steps: [
      'Enter tag, address and serial number of each device.',
      'Paste the list that the gateway shows.',
      'Bind, unbind or swap what is not as planned.',
    ],
    hints: [
      'A place that is bound keeps its tag and its signals when the device changes.',
      'Move a device to another node and its signals go along.',
      'Tags pasted into one field of the table go on in the fields after it.',
    ],
    page: 'using/data-and-ports.md',
  },
  range: {
    title: 'Range bench',
    isFor: 'One analog signal from the sensor to the value in the program.',
    steps: [
      'Choose a signal.',
      'Compare the transmitter’s range with the channel’s and the scaling.',
      'Try values: unit, current, octets and counts stand side by side.',
    ],
    hints: [
      'The scaling block can be copied as text for the controller.',
      'Values beyond the range show what the module gives then.',
      'Choose another signal at the top right.',
    ],
    page: 'using/signals.md',
  },
  list: {
    title: 'Signal list',
    isFor: 'A list from a spreadsheet, compared with the plan before anything changes.',
    steps: [
      'Choose a CSV or XLSX file, or paste rows.',
      'Say what its columns mean.',
      'Choose the differences and apply them as one change.',
    ],
    hints: [
      'Nothing changes before you apply it.',
      'Rows without a channel wait as unassigned signals.',
      'One Undo takes the whole list back.',
    ],
    page: 'using/ledger.md',
  },
  memory: {
    title: 'Memory',
    isFor: 'Which octets of the controller belong to whom.',
    steps: [
      'Look for gaps and reserves in the rows.',
      'Drag a block, or press Alt with an arrow key.',
      'Repack shows old and new addresses before anything moves.',
    ],
    hints: [
      'A block that was moved by hand is held; it shows a pin.',
      'Areas and reserves stand in the controller’s sheet.',
      'Notation shows all addresses in another notation for a moment.',
    ],
    page: 'using/memory.md',
  },
  rehearsal: {
    title: 'Rehearsal',
    isFor: 'Commissioning on simulated wires, before anyone stands at the plant.',
    steps: [
      'Begin a rehearsal and scan all networks.',
      'Assign names and addresses, mend on site, or take over from the wire.',
      'Start all stations, check the signals, end with the score.',
    ],
    hints: [
      'Nothing here touches a real network.',
      'What differs from the plan is hidden until the end.',
      'The frames can be downloaded as a capture file.',
    ],
    page: 'using/rehearsal.md',
  },
  history: {
    title: 'History',
    isFor: 'Who changed what and when, versions with names, and the way back.',
    steps: [
      'Filter by person, place or tag.',
      'Press What changed to see old and new values.',
      'Go back to an earlier state; that is a change too and can be taken back.',
    ],
    hints: [
      'Give a version a name before large changes.',
      'Two versions can be compared with each other.',
      'Going back deletes nothing.',
    ],
    page: 'using/history.md',
  },
  handover: {
    title: 'Handover',
    isFor: 'Documents and files for programmers, electricians and the archive.',
    steps: [
      'Look at what still makes it a draft; each place is a link.',
      'Preview a document, choose what is written, download it.',
      'Tick the files of the package, name the release, release it.',
    ],
    hints: [
      'As long as something blocks, files are marked as a draft.',
      'A release keeps its package, with the hash of each file.',
      'Files that others changed come back by Compare a file with the plan.',
    ],
    page: 'using/handover.md',
  },
}

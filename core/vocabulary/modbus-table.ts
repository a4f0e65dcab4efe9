/** The four tables of a Modbus device (MODBUS Application Protocol V1.1b3, 4.3): what stands in
 *  them and the functions that reach it. */
export const modbusTables = {
  coil: { words: 'coils', isBit: true, read: 1, writeOne: 5, writeMany: 15 },
  'discrete-input': {
    words: 'discrete inputs',
    isBit: true,
    read: 2,
    writeOne: null,
    writeMany: null,
  },
  'input-register': {
    words: 'input registers',
    isBit: false,
    read: 4,
    writeOne: null,
    writeMany: null,
  },
  'holding-register': {
    words: 'holding registers',
    isBit: false,
    read: 3,
    writeOne: 6,
    writeMany: 16,
  },
} as const
export type ModbusTable = keyof typeof modbusTables
export const modbusTableNames = Object.keys(modbusTables) as [ModbusTable, ...ModbusTable[]]

/** One place in a table, in words: `holding register`. */
export const wordTable = (table: ModbusTable): string => modbusTables[table].words.replace(/s$/, '')

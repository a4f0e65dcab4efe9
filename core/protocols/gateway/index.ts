import type { SheetDevice } from '../../catalog/model'
import { wordModbusMessage } from '../modbus/frame-words'
import { modbusSerialMaster } from '../modbus/master'
import type { NetworkProtocol } from '../protocol'

export const gateway = {
  name: 'gateway',
  title: 'fieldbus gateway',
  kinds: {
    gateway: {
      name: 'Fieldbus gateway',
      wiring: { shape: 'bus', medium: 'copper', ports: 2, controllerPorts: 2 },
      // How it is asked is its maker's own; here as on a serial line of Modbus.
      master: modbusSerialMaster,
      wordFrame: wordModbusMessage,
      number: { word: 'Number', first: 1, last: 4096, start: 1 },
      settings: { network: {}, station: {} },
    },
  },
  sheetParts: [],
  byteOrder: 'big',
  placesProposed: true,
} satisfies NetworkProtocol<SheetDevice>

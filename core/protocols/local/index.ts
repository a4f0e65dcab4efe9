import type { SheetDevice } from '../../catalog/model'
import { wordModbusMessage } from '../modbus/frame-words'
import { modbusSerialMaster } from '../modbus/master'
import type { NetworkProtocol } from '../protocol'

export const local = {
  name: 'local',
  title: 'own slots of a controller',
  kinds: {
    local: {
      name: 'Own slots',
      isController: true,
      // How it is asked is its maker's own; here as on a serial line of Modbus.
      master: modbusSerialMaster,
      wordFrame: wordModbusMessage,
      number: { word: 'Rack', first: 0, last: 31, start: 0 },
      settings: { network: {}, station: {} },
    },
  },
  sheetParts: ['controller'],
  byteOrder: 'big',
  placesProposed: true,
} satisfies NetworkProtocol<SheetDevice>

import { toHex } from '../../vocabulary/hex'
import { modbusTables } from '../../vocabulary/modbus-table'
import type { WireStation } from '../wire'
import { referenceOf, requestPdu } from './requests'
import { requestsOf } from './round'

export function telegramsOf(view: WireStation) {
  return {
    requests: requestsOf(view).map((request) => ({
      function: request.functionCode,
      table: request.table,
      start: request.start,
      count: request.count,
      reference: referenceOf(request.table, request.start),
      words: `${request.isWrite ? 'write' : 'read'} ${modbusTables[request.table].words}`,
      values: request.names,
      pdu: toHex(requestPdu(request)),
      writes: request.writes && {
        start: request.writes.start,
        count: request.writes.count,
        values: request.writes.names,
      },
      requestBytes: request.requestBytes,
      responseBytes: request.responseBytes,
    })),
  }
}

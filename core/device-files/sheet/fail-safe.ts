import type { ParameterRecord } from '../../catalog/model'
import { encodeValue } from '../../parameters'
import { parseValueList } from '../../vocabulary/value-list'
import { toHex } from '../../vocabulary/hex'
import { failSafeFields } from '../f-fields'
import type { DeviceSheet } from './schema'

type FailSafe = NonNullable<DeviceSheet['modules'][number]['failSafe']>

/** F parameters that somebody may set; the others follow from what the sheet says. */
const settable: ReadonlySet<string> = new Set(['F_Source_Add', 'F_Dest_Add', 'F_WD_Time'])

/** The F parameter record of a fail-safe module that a sheet describes (PROFIsafe profile, from
 *  memory). Seed and length of the check sum follow from the octets of the fail-safe layer. */
export function failSafeRecord(failSafe: FailSafe): ParameterRecord {
  const { index, sil, watchdogMs, watchdogAllowed, addressAllowed, ownParametersSum } = failSafe
  const { length, fields } = failSafeFields(ownParametersSum)
  const isLong = failSafe.trailerOctets === 5
  const said: Readonly<Record<string, number>> = {
    F_Check_iPar: ownParametersSum ? 1 : 0,
    F_SIL: sil - 1,
    F_CRC_Seed: isLong ? 1 : 0,
    F_CRC_Length: isLong ? 2 : 0,
    F_Block_ID: ownParametersSum ? 1 : 0,
    F_WD_Time: watchdogMs,
  }
  const allowed: Readonly<Record<string, string>> = {
    F_Source_Add: '1..65534',
    F_Dest_Add: addressAllowed,
    F_WD_Time: watchdogAllowed,
  }
  const bytes = new Uint8Array(length)
  const parameters = fields.map(({ fallback, words, ...field }) => {
    const value = said[field.name] ?? fallback
    encodeValue(bytes, field, value)
    return {
      ...field,
      key: field.name,
      default: value,
      allowed: parseValueList(allowed[field.name] ?? '') ?? [],
      texts: Object.fromEntries(words.map((word, i) => [String(i), word])),
      visible: true,
      changeable: settable.has(field.name),
    }
  })
  return { index, length, bytes: toHex(bytes), parameters }
}

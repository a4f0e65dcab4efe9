import { decodeBus, functions, servicePoints } from './telegrams'

const services: Readonly<Record<number, string>> = {
  [servicePoints.setAddress]: 'Set_Slave_Add',
  [servicePoints.getConfiguration]: 'Get_Cfg',
  [servicePoints.diagnosis]: 'Slave_Diag',
  [servicePoints.setParameters]: 'Set_Prm',
  [servicePoints.checkConfiguration]: 'Chk_Cfg',
}

export function wordProfibusTelegram(octets: Uint8Array): string | null {
  const telegram = decodeBus(octets)
  if (!telegram) return null
  if (telegram === 'acknowledge') return 'Short acknowledgement'
  const { from, to, points, data } = telegram
  if (telegram.function === functions.status) return `${from} → ${to}: who is there`
  if (telegram.function === functions.ok && data.length === 0 && !points)
    return `${from} → ${to}: is there`
  const point = points && (services[points.to] ?? services[points.from])
  return `${from} → ${to}: ${point ?? 'Data_Exchange'}, ${data.length} octets`
}

import Qty from 'js-quantities'

/** Units of the trade by what they measure: as people write them, and as the unit library does. */
const quantities: Readonly<Record<string, Readonly<Record<string, string>>>> = {
  Pressure: {
    bar: 'bar',
    mbar: 'mbar',
    Pa: 'Pa',
    kPa: 'kPa',
    MPa: 'MPa',
    psi: 'psi',
    atm: 'atm',
    cmH2O: 'cmH2O',
    mmHg: 'mmHg',
  },
  Temperature: { '°C': 'tempC', '°F': 'tempF', K: 'tempK' },
  Level: { m: 'm', mm: 'mm', cm: 'cm', ft: 'ft', in: 'in' },
  'Volume flow': {
    'm³/h': 'm^3/h',
    'm³/s': 'm^3/s',
    'l/s': 'l/s',
    'l/min': 'l/min',
    'l/h': 'l/h',
    gpm: 'gal/min',
  },
  'Mass flow': { 'kg/h': 'kg/h', 'kg/s': 'kg/s', 't/h': 'tonne/h', 'lb/h': 'lb/h' },
  Mass: { kg: 'kg', g: 'g', t: 'tonne', lb: 'lb' },
  Volume: { 'm³': 'm^3', l: 'l', ml: 'ml' },
  Speed: { 'm/s': 'm/s', 'mm/s': 'mm/s', 'km/h': 'km/h' },
  Rotation: { rpm: 'rpm', 'rad/s': 'rad/s' },
  Frequency: { Hz: 'Hz', kHz: 'kHz' },
  Share: { '%': '%', ppm: 'ppm' },
  Power: { W: 'W', kW: 'kW', MW: 'MW' },
  Energy: { kWh: 'kWh', MJ: 'MJ', J: 'J' },
  Current: { A: 'A', mA: 'mA' },
  Voltage: { V: 'V', mV: 'mV', kV: 'kV' },
  Conductivity: { 'µS/cm': 'uS/cm', 'mS/cm': 'mS/cm', 'S/m': 'S/m' },
  Concentration: { 'mg/l': 'mg/l', 'g/l': 'g/l', 'µg/l': 'ug/l' },
  Time: { s: 's', ms: 'ms', min: 'min', h: 'h' },
}

/** Every unit that can be converted, with those of the same quantity side by side. */
export const unitGroups: readonly (readonly [quantity: string, units: readonly string[]])[] =
  Object.entries(quantities).map(([quantity, units]) => [quantity, Object.keys(units)])

const libraryNames = new Map(Object.values(quantities).flatMap((units) => Object.entries(units)))

/** A unit as it is written here: `m3/h` and `degC` are known too; as it was where nobody knows
 *  it. */
export function usualUnit(text: string): string {
  const written = text
    .trim()
    .replace(/\^?3(?=\/|$)/, '³')
    .replace(/^deg ?([CF])$/i, (_, letter: string) => `°${letter.toUpperCase()}`)
    .replace(/^u(?=[Sg])/, 'µ')
  return libraryNames.has(written) ? written : text.trim()
}

/** Units that a value in this one can be converted into, itself first; only itself where it is not
 *  known. */
export function unitsLike(unit: string): readonly string[] {
  const group = unitGroups.find(([, units]) => units.includes(unit))?.[1] ?? [unit]
  return [unit, ...group.filter((one) => one !== unit)]
}

/** A value in another unit, by js-quantities (its psi is rounded to six digits); null where the two
 *  do not measure the same or one of them is not known. */
export function convertUnit(value: number, from: string, to: string): number | null {
  if (from === to) return value
  const [own, other] = [libraryNames.get(from), libraryNames.get(to)]
  if (own === undefined || other === undefined) return null
  try {
    return Number(Qty(value, own).to(other).scalar.toPrecision(12))
  } catch {
    return null
  }
}

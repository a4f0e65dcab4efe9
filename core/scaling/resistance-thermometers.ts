import type { Curve } from './curve'

/** IEC 60751:2008, 4.2: coefficients of industrial platinum resistance thermometers. */
const platinum = { a: 3.9083e-3, b: -5.775e-7, c: -4.183e-12 }
/** DIN 43760:1987 (withdrawn), nickel, 6178 ppm/K (from memory; check value 161.8 Ω at 100 °C). */
const nickel = { a: 5.485e-3, b: 6.65e-6, d: 2.805e-11, f: -2e-17 }

/** Resistance in Ω over temperature in °C of `Pt100`, `Pt1000`, `Ni100` and the like (IEC 60751,
 *  −200…850 °C; nickel −60…250 °C); null for anything else. The number is the resistance at 0
 *  °C. */
export function resistanceThermometer(type: string): Curve | null {
  const parts = /^(Pt|Ni)(\d{2,4})$/.exec(type)
  if (!parts) return null
  const r0 = Number(parts[2])
  if (parts[1] === 'Pt')
    return {
      from: -200,
      to: 850,
      at: (t) =>
        r0 *
        (1 + platinum.a * t + platinum.b * t * t + (t < 0 ? platinum.c * (t - 100) * t ** 3 : 0)),
    }
  return {
    from: -60,
    to: 250,
    at: (t) => r0 * (1 + nickel.a * t + nickel.b * t * t + nickel.d * t ** 4 + nickel.f * t ** 6),
  }
}

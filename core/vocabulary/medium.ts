/** What a cable or radio path is made of, with the longest reach of one link in metres where that
 *  does not depend on the bit rate. Copper: ISO/IEC 11801, channel of class D and above. Fibre at
 *  100 Mbit/s: common practice; what a transceiver says comes first. */
export const media = {
  copper: { word: 'Copper', reachM: 100 },
  'fibre-plastic': { word: 'Plastic fibre', reachM: 50 },
  'fibre-hard-clad': { word: 'Hard-clad fibre', reachM: 100 },
  'fibre-multi-mode': { word: 'Multi-mode fibre', reachM: 2000 },
  'fibre-single-mode': { word: 'Single-mode fibre', reachM: 20_000 },
  'rs-485': { word: 'RS-485 line', reachM: null },
  can: { word: 'CAN line', reachM: null },
  radio: { word: 'Radio', reachM: null },
  backplane: { word: 'Backplane', reachM: null },
} as const
export type Medium = keyof typeof media
export const mediumNames = Object.keys(media) as [Medium, ...Medium[]]

const isFibre = (medium: Medium): boolean => medium.startsWith('fibre')

/** Whether nothing can join two ports: one of light, the other of current, or a backplane that ends
 *  in a cable. */
export function areApart(a: Medium, b: Medium): boolean {
  return isFibre(a) !== isFibre(b) || (a === 'backplane') !== (b === 'backplane')
}

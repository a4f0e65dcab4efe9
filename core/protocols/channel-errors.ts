/** Types of error of a channel that PROFIBUS and PROFINET have in common (IEC 61158-6-3 and -6-10,
 *  from memory). */
export const channelErrors: Readonly<Record<number, string>> = {
  1: 'short circuit',
  2: 'undervoltage',
  3: 'overvoltage',
  4: 'overload',
  5: 'overtemperature',
  6: 'line break',
  7: 'upper limit exceeded',
  8: 'below lower limit',
  9: 'error',
}

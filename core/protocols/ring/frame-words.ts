import { decodeRing, messageTypes, readPollData, readStartOfAsync } from './frames'

export function wordRingFrame(octets: Uint8Array): string | null {
  const frame = decodeRing(octets)
  if (!frame) return null
  const { type, from, to, body } = frame
  if (type === messageTypes.soc) return 'Start of cycle'
  if (type === messageTypes.soa) return `Asks node ${readStartOfAsync(body)?.node ?? to} who it is`
  if (type === messageTypes.request)
    return `Poll request to node ${to}, ${readPollData(body)?.data.length ?? 0} octets`
  if (type === messageTypes.response)
    return `Poll response of node ${from}, ${readPollData(body)?.data.length ?? 0} octets`
  return `Message from node ${from} to ${to}`
}

import type { Derived } from '../../derive/derive'
import { wordsOfOrigin, type Origin } from '../origin'
import { hostName, namedAddresses } from './served'

const oneLine = (text: string) => text.replace(/\s+/g, ' ').trim()

/** Names and addresses as a hosts file (RFC 952; its format as of hosts(5)): address, name, and the
 *  role name beside it. What is no host name is written as one, with the plan's name behind. */
export function writeHosts(derived: Derived, origin: Origin): string {
  const lines = [`# ${oneLine(origin.project)}, ${wordsOfOrigin(origin).join(', ')}`]
  let network = ''
  for (const { network: row, name, ip, role } of namedAddresses(derived)) {
    if (row.id !== network) {
      network = row.id
      lines.push('', `# ${oneLine(row.name)}`)
    }
    const names = [...new Set([hostName(name), hostName(role)])].filter((one) => one !== null)
    const said = names.includes(name) || name === '' ? '' : `  # ${oneLine(name)}`
    lines.push(
      names.length === 0
        ? `# ${ip} has no name that is a host name: ${oneLine(name) || 'none'}`
        : `${ip}\t${names.join(' ')}${said}`,
    )
  }
  return `${lines.join('\n')}\n`
}

import { frameWords } from '../frame'
import type { WireStation } from '../wire'
import { frameWithStatus } from './frame'

export function telegramsOf(view: WireStation) {
  const side = (direction: 'in' | 'out') => frameWords(frameWithStatus(view, direction))
  return { frame: { in: side('in'), out: side('out') } }
}

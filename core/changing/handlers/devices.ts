import type { Handler } from '../handler'

type Commands = 'setDeviceIdentities' | 'setReported' | 'setSendTimes'

/** Devices below gateways: who they are, and what their gateway reports. */
export const deviceHandlers: { [T in Commands]: Handler<T> } = {
  setDeviceIdentities: (draft, _, { edits }) => {
    for (const { moduleId, identity } of edits) {
      const row = draft.get('modules', moduleId)
      if (!row) return { code: 'row.missing', what: 'module', id: moduleId }
      const isEmpty = identity && identity.tag + identity.address + identity.serial === ''
      draft.put('modules', { ...row, identity: isEmpty ? null : identity })
    }
    return null
  },
  setSendTimes: (draft, _, { edits }) => {
    for (const { moduleId, seconds } of edits) {
      const row = draft.get('modules', moduleId)
      if (!row) return { code: 'row.missing', what: 'module', id: moduleId }
      draft.put('modules', { ...row, sendsEveryS: seconds })
    }
    return null
  },
  setReported: (draft, _, { id, reported }) => {
    const row = draft.get('stations', id)
    if (!row) return { code: 'row.missing', what: 'station', id }
    draft.put('stations', { ...row, reported })
    return null
  },
}

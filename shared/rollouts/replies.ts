import type { SheetPageRule } from '../../core/sheet/content'
import type { Group } from '../../core/targeting/condition'
import { anything, exactly, id, listOf, moment, text, whole, yesOrNo } from '../api/replyPieces'

export const rolloutReply = exactly({
  id: id(),
  experiment: id(),
  name: text(),
  share: whole(),
  isForEverybody: yesOrNo(),
  isOn: yesOrNo(),
  variant: exactly({ name: text(), position: whole(), edits: whole() }),

  pageRules: listOf(anything<SheetPageRule>()),
  audience: anything<Group>().nullable(),
  holdouts: listOf(text()),

  version: whole(),
  person: text().nullable(),
  createdAt: moment(),
  changedAt: moment(),
  visitors: whole(),
})
export const rolloutsReply = listOf(rolloutReply)
export const rolloutDaysReply = listOf(exactly({ day: text(), visitors: whole() }))

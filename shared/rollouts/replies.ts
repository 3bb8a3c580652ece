import type { RolloutDay, RolloutView } from './rollout'
import { anything, exactly, id, listOf, moment, text, whole, yesOrNo } from '../api/replyPieces'

export const rolloutReply = exactly<RolloutView>({
  id: id(),
  experiment: id(),
  name: text(),
  share: whole(),
  isForEverybody: yesOrNo(),
  isOn: yesOrNo(),
  variant: exactly<RolloutView['variant']>({ name: text(), position: whole(), edits: whole() }),

  pageRules: listOf(anything()),
  audience: anything().nullable(),
  holdouts: listOf(text()),

  version: whole(),
  person: text().nullable(),
  createdAt: moment(),
  changedAt: moment(),
  visitors: whole(),
})
export const rolloutsReply = listOf(rolloutReply)
export const rolloutDaysReply = listOf(exactly<RolloutDay>({ day: text(), visitors: whole() }))

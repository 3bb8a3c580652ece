import type { InferType } from '../yup'
import type { SheetPageRule } from '../../core/sheet/content'
import type { PageRule } from '../../core/targeting/pageRule'
import type { Group } from '../../core/targeting/condition'
import { STANDINGS } from '../../core/edits/standing'
import { anything, exactly, id, listOf, moment, oneOf, text, whole, yesOrNo } from '../api/replyPieces'

export const rolloutReply = exactly({
  id: id(),
  experiment: id(),
  /** Of the experiment. */
  name: text(),
  /** Of 10,000 buckets. */
  share: whole(),
  isForEverybody: yesOrNo(),
  isOn: yesOrNo(),
  variant: exactly({ name: text(), position: whole(), edits: whole() }),
  pageRules: listOf(anything<SheetPageRule>()),
  /** Conditions of the experiment on visitors; null for everybody. */
  audience: anything<Group>().nullable(),
  /** Names of the holdouts that keep their visitors from it. */
  holdouts: listOf(text()),
  version: whole(),
  person: text().nullable(),
  createdAt: moment(),
  changedAt: moment(),
  /** Visitors of the last seven days who got it. */
  visitors: whole(),
})
export type RolloutView = InferType<typeof rolloutReply>

const served = exactly({
  id: id(),
  kind: oneOf('rollout', 'personalization'),
  name: text(),
  /** In words. */
  pages: text(),
  rules: listOf(anything<PageRule>()),
})
/** Something that is served, wherever it comes from. */
export type ServedView = InferType<typeof served>

export const servedReply = listOf(served)

const homeLook = exactly({
  /** In the order of the sheet. */
  variants: listOf(
    exactly({
      variant: text(),
      edits: listOf(exactly({ edit: text(), standing: oneOf(...STANDINGS) })),
    }),
  ),
  /** Paths that were looked at. */
  pages: listOf(text()),
  /** Whether they look the same with what is served as without it. */
  isSame: yesOrNo(),
})
/** How what is served stands to the pages as the site itself has them. */
export type HomeLook = InferType<typeof homeLook>

export const homeCheckReply = exactly({
  look: homeLook.nullable(),
  /** Whether the site has all of it that can be seen. */
  isBuiltIn: yesOrNo(),
  checkedAt: moment().nullable(),
})
/** The latest look, if there was one. */
export type HomeCheckView = InferType<typeof homeCheckReply>

export const rolloutsReply = listOf(rolloutReply)
const rolloutDay = exactly({ day: text(), visitors: whole() })
/** Visitors who got it, by day. */
export type RolloutDay = InferType<typeof rolloutDay>

export const rolloutDaysReply = listOf(rolloutDay)

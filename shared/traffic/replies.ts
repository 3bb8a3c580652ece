import { tuple, type InferType } from '../yup'
import type { ExperimentState } from '../experiments/experiment'
import { exactly, id, listOf, moment, oneOf, text, whole, yesOrNo } from '../api/replyPieces'

export const stateReply = () => oneOf<ExperimentState>('draft', 'running', 'paused', 'ended')

const groupMember = exactly({
  experiment: id(),
  name: text(),
  state: stateReply(),
  /** Of 10,000 buckets. */
  share: whole(),
  rank: whole(),
  /** Buckets of the group that it has; none for a draft. */
  ranges: listOf(tuple([whole(), whole()]).strict().required()),
})

const exclusionGroup = exactly({
  id: id(),
  name: text(),
  kind: oneOf('parts', 'turns'),
  /** Buckets that nobody has; null where experiments take turns. */
  free: whole().nullable(),
  members: listOf(groupMember),
})
export type ExclusionGroupView = InferType<typeof exclusionGroup>

export const groupsReply = listOf(exclusionGroup)

const environment = exactly({
  /** Of the site that its visitors are counted on. */
  id: id(),
  name: text(),
  /** Its origin. */
  address: text(),
  key: text(),
  /** What it shows, each to a share of its visitors, of 10,000. */
  shown: listOf(exactly({ experiment: id(), share: whole() })),
})
export type EnvironmentView = InferType<typeof environment>

export const environmentsReply = listOf(environment)

const holdout = exactly({
  id: id(),
  name: text(),
  /** Of 10,000 buckets. */
  share: whole(),
  startsAt: moment(),
  endsAt: moment(),
  /** Whether what starts now is kept from its visitors. */
  isOpen: yesOrNo(),
  /** From then on it keeps nobody from anything; null before. */
  closedAt: moment().nullable(),
  experiments: listOf(exactly({ experiment: id(), name: text(), state: stateReply() })),
})
export type HoldoutView = InferType<typeof holdout>

export const holdoutsReply = listOf(holdout)

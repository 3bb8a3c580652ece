import type { EnvironmentView } from '../sites/environment'
import type { ExperimentState } from '../experiments/experiment'
import type { ExclusionGroupView, GroupMember, HoldoutView } from './traffic'
import { exactly, id, listOf, moment, oneOf, text, whole, yesOrNo } from '../api/replyPieces'

export const stateReply = () => oneOf<ExperimentState>('draft', 'running', 'paused', 'ended')

export const groupsReply = listOf(
  exactly<ExclusionGroupView>({
    id: id(),
    name: text(),
    kind: oneOf('parts', 'turns'),
    free: whole().nullable(),
    members: listOf(
      exactly<GroupMember>({
        experiment: id(),
        name: text(),
        state: stateReply(),
        share: whole(),
        rank: whole(),
        ranges: listOf(listOf(whole()).length(2)),
      }),
    ),
  }),
)

export const environmentsReply = listOf(
  exactly<EnvironmentView>({
    id: id(),
    name: text(),
    address: text(),
    key: text(),
    shown: listOf(exactly<EnvironmentView['shown'][number]>({ experiment: id(), share: whole() })),
  }),
)

export const holdoutsReply = listOf(
  exactly<HoldoutView>({
    id: id(),
    name: text(),
    share: whole(),
    startsAt: moment(),
    endsAt: moment(),
    isOpen: yesOrNo(),
    experiments: listOf(
      exactly<HoldoutView['experiments'][number]>({ experiment: id(), name: text(), state: stateReply() }),
    ),
  }),
)

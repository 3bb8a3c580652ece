import { tuple } from '../yup'
import type { ExperimentState } from '../experiments/experiment'
import { exactly, id, listOf, moment, oneOf, text, whole, yesOrNo } from '../api/replyPieces'

export const stateReply = () => oneOf<ExperimentState>('draft', 'running', 'paused', 'ended')

export const groupsReply = listOf(
  exactly({
    id: id(),
    name: text(),
    kind: oneOf('parts', 'turns'),
    free: whole().nullable(),
    members: listOf(
      exactly({
        experiment: id(),
        name: text(),
        state: stateReply(),
        share: whole(),
        rank: whole(),
        ranges: listOf(tuple([whole(), whole()]).strict().required()),
      }),
    ),
  }),
)

export const environmentsReply = listOf(
  exactly({
    id: id(),
    name: text(),
    address: text(),
    key: text(),
    shown: listOf(exactly({ experiment: id(), share: whole() })),
  }),
)

export const holdoutsReply = listOf(
  exactly({
    id: id(),
    name: text(),
    share: whole(),
    startsAt: moment(),
    endsAt: moment(),
    isOpen: yesOrNo(),
    experiments: listOf(exactly({ experiment: id(), name: text(), state: stateReply() })),
  }),
)

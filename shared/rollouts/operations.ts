import { pageSchema } from '../api/paging'
import { changesReply } from '../experiments/replies'
import { homeCheckReply, rolloutDaysReply, rolloutReply, rolloutsReply, servedReply } from './replies'
import { rolloutChangeSchema, rolloutSchema, servedOrderSchema } from './rollout'
import { answers, type Operation } from '../api/operation'
import { SITE } from '../sites/operations'

const ROLLOUT = `${SITE}/rollouts/{rollout}` as const
const rollout = answers(rolloutReply)

export const ROLLOUTS = {
  listRollouts: {
    method: 'get',
    path: `${SITE}/rollouts`,
    access: 'viewer',
    summary: 'Rollouts: what experiments kept and Vetch serves, the latest first',
    reply: answers(rolloutsReply),
  },
  startRollout: {
    method: 'post',
    path: `${SITE}/experiments/{experiment}/rollout`,
    access: 'editor',
    summary: 'Serve the variant that an ended experiment keeps',
    body: rolloutSchema,
    reply: rollout,
  },
  listServed: {
    method: 'get',
    path: `${SITE}/served`,
    access: 'viewer',
    summary: 'All that is served, in the order in which browsers apply it',
    reply: answers(servedReply),
  },
  orderServed: {
    method: 'post',
    path: `${SITE}/served-order`,
    access: 'editor',
    summary: 'Put what is served into another order',
    body: servedOrderSchema,
    reply: answers(servedReply),
  },
  readHomeCheck: {
    method: 'get',
    path: `${SITE}/experiments/{experiment}/home-check`,
    access: 'viewer',
    summary: 'Whether the site itself has what is served by now, as it was last looked at',
    reply: answers(homeCheckReply),
  },
  lookAtHome: {
    method: 'post',
    path: `${SITE}/experiments/{experiment}/home-check`,
    access: 'editor',
    summary: 'Look at the pages as the site itself has them: do they show what is served?',
    reply: answers(homeCheckReply),
  },
  readRollout: {
    method: 'get',
    path: ROLLOUT,
    access: 'viewer',
    summary: 'One rollout',
    reply: rollout,
  },
  changeRollout: {
    method: 'patch',
    path: ROLLOUT,
    access: 'editor',
    summary: 'Stop a rollout, serve it again, or change to whom it goes',
    body: rolloutChangeSchema,
    reply: rollout,
  },
  listRolloutDays: {
    method: 'get',
    path: `${ROLLOUT}/days`,
    access: 'viewer',
    summary: 'Visitors who got a rollout, by day, over the last four weeks',
    reply: answers(rolloutDaysReply),
  },
  listRolloutChanges: {
    method: 'get',
    path: `${ROLLOUT}/changes`,
    access: 'viewer',
    summary: 'Who changed what on a rollout, the latest first',
    query: pageSchema,
    reply: answers(changesReply),
  },
} as const satisfies Record<string, Operation>

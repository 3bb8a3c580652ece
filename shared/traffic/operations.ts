import { environmentSchema, environmentShareSchema } from '../sites/environment'
import { environmentsReply, groupsReply, holdoutsReply } from './replies'
import { holdoutReadingReply } from './holdoutReading'
import { groupSchema, holdoutSchema } from './traffic'
import { answers, type Operation } from '../api/operation'
import { SITE } from '../sites/operations'

const groups = answers(groupsReply)
const environments = answers(environmentsReply)
const holdouts = answers(holdoutsReply)

export const TRAFFIC = {
  listGroups: {
    method: 'get',
    path: `${SITE}/groups`,
    access: 'viewer',
    summary: 'Groups of experiments that exclude each other, with who has which part',
    reply: groups,
  },
  createGroup: {
    method: 'post',
    path: `${SITE}/groups`,
    access: 'editor',
    summary: 'Make a group of experiments that exclude each other',
    body: groupSchema,
    reply: groups,
  },
  deleteGroup: {
    method: 'delete',
    path: `${SITE}/groups/{group}`,
    access: 'editor',
    summary: 'Delete a group that no experiment is in',
    reply: groups,
  },
  listHoldouts: {
    method: 'get',
    path: `${SITE}/holdouts`,
    access: 'viewer',
    summary: 'Visitors who are kept out of everything that starts in a period',
    reply: holdouts,
  },
  createHoldout: {
    method: 'post',
    path: `${SITE}/holdouts`,
    access: 'owner',
    summary: 'Keep a share of the visitors out of everything that starts from now to a day',
    body: holdoutSchema,
    reply: holdouts,
  },
  endHoldout: {
    method: 'delete',
    path: `${SITE}/holdouts/{holdout}`,
    access: 'owner',
    summary: 'End a holdout: what starts from now on is for everybody',
    reply: holdouts,
  },
  readHoldout: {
    method: 'get',
    path: `${SITE}/holdouts/{holdout}`,
    access: 'viewer',
    summary: 'What a holdout shows: its visitors against all others, on all metrics and month by month',
    reply: answers(holdoutReadingReply),
  },
  closeHoldout: {
    method: 'post',
    path: `${SITE}/holdouts/{holdout}/close`,
    access: 'owner',
    summary: 'Close a holdout: its visitors get everything that others get; its reading is kept',
    reply: holdouts,
  },
  listEnvironments: {
    method: 'get',
    path: `${SITE}/environments`,
    access: 'viewer',
    summary: 'Other places of the site’s pages, such as staging, with what each shows',
    reply: environments,
  },
  createEnvironment: {
    method: 'post',
    path: `${SITE}/environments`,
    access: 'owner',
    summary: 'Add an environment by its origin; its visitors are counted apart',
    body: environmentSchema,
    reply: environments,
  },
  detachEnvironment: {
    method: 'delete',
    path: `${SITE}/environments/{environment}`,
    access: 'owner',
    summary: 'Make an environment a site of its own, which shows no experiment of this one',
    reply: environments,
  },
  showInEnvironment: {
    method: 'post',
    path: `${SITE}/experiments/{experiment}/environments`,
    access: 'editor',
    summary: 'Show an experiment in an environment to a share of its visitors, be it a draft',
    body: environmentShareSchema,
    reply: environments,
  },
} as const satisfies Record<string, Operation>

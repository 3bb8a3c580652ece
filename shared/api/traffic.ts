import { groupsReply, holdoutsReply } from '../replies/traffic'
import { groupSchema, holdoutSchema, type ExclusionGroupView, type HoldoutView } from '../traffic'
import { answers, type Operation } from './operation'
import { SITE } from './sites'

const groups = answers<ExclusionGroupView[]>(groupsReply)
const holdouts = answers<HoldoutView[]>(holdoutsReply)

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
} as const satisfies Record<string, Operation>

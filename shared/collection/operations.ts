import { collectionSchema } from './collection'
import { collectionReply } from './replies'
import { answers, type Operation } from '../api/operation'
import { SITE } from '../sites/operations'

export const COLLECTION = {
  readCollection: {
    method: 'get',
    path: `${SITE}/collection`,
    access: 'viewer',
    summary: 'What is collected beside views, clicks and sent forms, and how much came lately',
    reply: answers(collectionReply),
  },
  updateCollection: {
    method: 'patch',
    path: `${SITE}/collection`,
    access: 'owner',
    summary: 'Choose what is collected, on which pages and of how many visitors',
    body: collectionSchema,
    reply: answers(collectionReply),
  },
} as const satisfies Record<string, Operation>

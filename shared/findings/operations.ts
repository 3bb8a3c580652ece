import { attachmentQuery, findingChangeSchema, findingSchema, findingsQuery, mergeSchema } from './finding'
import { attachmentReply, findingNowReply, findingReply, findingsReply } from './replies'
import { answers, answersFile, confirms, type Operation } from '../api/operation'
import { SITE } from '../sites/operations'

const FINDING = `${SITE}/findings/{finding}`

export const FINDINGS = {
  listFindings: {
    method: 'get',
    path: `${SITE}/findings`,
    access: 'viewer',
    summary: 'Findings of the site, searched and filtered, the latest first',
    query: findingsQuery,
    reply: answers(findingsReply),
  },
  createFinding: {
    method: 'post',
    path: `${SITE}/findings`,
    access: 'editor',
    summary: 'Keep what was seen: a view with its figures, a note on an element of a page, or words alone',
    body: findingSchema,
    reply: answers(findingReply),
  },
  readFinding: {
    method: 'get',
    path: FINDING,
    access: 'viewer',
    summary: 'A finding with its proof',
    reply: answers(findingReply),
  },
  updateFinding: {
    method: 'patch',
    path: FINDING,
    access: 'editor',
    summary: 'Change what a finding says, its tags or its state',
    body: findingChangeSchema,
    reply: answers(findingReply),
  },
  deleteFinding: {
    method: 'delete',
    path: FINDING,
    access: 'editor',
    summary: 'Delete a finding with its files',
    reply: confirms('deleted'),
  },
  readFindingNow: {
    method: 'get',
    path: `${FINDING}/now`,
    access: 'viewer',
    summary: 'The frozen view asked again, for as many days up to today, beside then',
    reply: answers(findingNowReply),
  },
  mergeFinding: {
    method: 'post',
    path: `${FINDING}/merge`,
    access: 'editor',
    summary: 'Merge a finding into one that says the same, or take it out again',
    body: mergeSchema,
    reply: answers(findingReply),
  },
  photographFinding: {
    method: 'post',
    path: `${FINDING}/picture`,
    access: 'editor',
    summary: 'Take a picture of the page that a finding is pinned to',
    reply: answers(attachmentReply),
  },
  addAttachment: {
    method: 'post',
    path: `${FINDING}/attachments`,
    access: 'editor',
    summary: 'Attach a file: the body is the file itself',
    query: attachmentQuery,
    reply: answers(attachmentReply),
  },
  readAttachment: {
    method: 'get',
    path: `${FINDING}/attachments/{attachment}`,
    access: 'viewer',
    summary: 'A file of a finding',
    produces: 'application/octet-stream',
    reply: answersFile(),
  },
  deleteAttachment: {
    method: 'delete',
    path: `${FINDING}/attachments/{attachment}`,
    access: 'editor',
    summary: 'Take a file away from a finding',
    reply: confirms('deleted'),
  },
} as const satisfies Record<string, Operation>

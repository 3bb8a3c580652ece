import { collectedBatchSchema } from '../intake/collect'
import { chunkSchema } from '../intake/record'
import { collectReply, placeReply, healthReply, recordReply, siteFileReply } from './replies'
import { anything } from '../api/replyPieces'
import { answers, answersFile, type Operation } from '../api/operation'

/** What visitors' pages call, and what describes Vetch itself. */
export const DELIVERY = {
  readHealth: {
    method: 'get',
    path: '/api/health',
    access: 'anyone',
    summary: 'Whether Vetch and its database answer',
    reply: answers(healthReply),
  },
  describeApi: {
    method: 'get',
    path: '/api/openapi.json',
    access: 'anyone',
    summary: 'This description',
    reply: answers(anything<object>()),
  },
  collect: {
    method: 'post',
    path: '/collect',
    access: 'anyone',
    summary: 'Take a batch of views and events from a visitor’s page (JSON, sent as text/plain)',
    body: collectedBatchSchema,
    reply: answers(collectReply),
  },
  readSnippet: {
    method: 'get',
    path: '/s/{key}.js',
    access: 'anyone',
    summary: 'The snippet with the compiled site file',
    produces: 'text/javascript',
    reply: answersFile(),
  },
  readSiteFile: {
    method: 'get',
    path: '/s/{key}.json',
    access: 'anyone',
    summary: 'The compiled site file',
    reply: answers(siteFileReply),
  },
  readPlace: {
    method: 'get',
    path: '/place',
    access: 'anyone',
    summary:
      'Where the caller is, as far as the lookup files know: for conditions on the place, asked at most once a visit',
    reply: answers(placeReply),
  },
  readRecorder: {
    method: 'get',
    path: '/recorder.js',
    access: 'anyone',
    summary: 'What tells behavior on the pages, and of the share of visitors, that a site has chosen',
    produces: 'text/javascript',
    reply: answersFile(),
  },
  record: {
    method: 'post',
    path: '/record',
    access: 'anyone',
    summary: 'Take a chunk of a recording from a visitor’s page (JSON, as it is or compressed with gzip)',
    body: chunkSchema,
    reply: answers(recordReply),
  },
  readOverlay: {
    method: 'get',
    path: '/overlay.js',
    access: 'anyone',
    summary: 'What is drawn on a page while someone points at its elements; needs a valid token',
    produces: 'text/javascript',
    reply: answersFile(),
  },
  readPageCopy: {
    method: 'get',
    path: '/copies/{key}',
    access: 'anyone',
    summary: 'A copy of a page without the script line, to point at; needs a valid token',
    produces: 'text/html',
    reply: answersFile(),
  },
} as const satisfies Record<string, Operation>

import { installationCheckSchema, newSiteSchema, sitePatchSchema } from './site'
import { newTokenSchema } from '../accounts/token'
import { pageSchema } from '../api/paging'
import {
  countedReply,
  installationReply,
  jobsReply,
  newTokenReply,
  setAsideReply,
  siteReply,
  todayReply,
  tokensReply,
} from './replies'
import { answers, answersStream, confirms, type Operation } from '../api/operation'

export const SITE = '/api/sites/{site}'

export const SITES = {
  readNews: {
    method: 'get',
    path: `${SITE}/news`,
    access: 'viewer',
    summary: 'What changes on a site, as it changes (server-sent events)',
    produces: 'text/event-stream',
    reply: answersStream(),
  },
  createSite: {
    method: 'post',
    path: '/api/sites',
    access: 'organisation-owner',
    summary: 'Add a site',
    body: newSiteSchema,
    reply: answers(siteReply),
  },
  readSite: {
    method: 'get',
    path: SITE,
    access: 'viewer',
    summary: 'A site with its script line',
    reply: answers(siteReply),
  },
  updateSite: {
    method: 'patch',
    path: SITE,
    access: 'owner',
    summary: 'Change a site’s settings',
    body: sitePatchSchema,
    reply: answers(siteReply),
  },
  checkInstallation: {
    method: 'post',
    path: `${SITE}/installation-check`,
    access: 'editor',
    summary: 'Fetch a page of the site and look for the script line',
    body: installationCheckSchema,
    reply: answers(installationReply),
  },
  readToday: {
    method: 'get',
    path: `${SITE}/today`,
    access: 'viewer',
    summary: 'What needs a person now, what runs, and what ended lately',
    reply: answers(todayReply),
  },
  listTokens: {
    method: 'get',
    path: `${SITE}/tokens`,
    access: 'owner',
    summary: 'Tokens of programs, a page at a time',
    query: pageSchema,
    reply: answers(tokensReply),
  },
  createToken: {
    method: 'post',
    path: `${SITE}/tokens`,
    access: 'owner',
    summary: 'Create a token for a program; it is shown once',
    body: newTokenSchema,
    reply: answers(newTokenReply),
  },
  revokeToken: {
    method: 'delete',
    path: `${SITE}/tokens/{token}`,
    access: 'owner',
    summary: 'Take a token back',
    reply: confirms('revoked'),
  },
  listJobs: {
    method: 'get',
    path: `${SITE}/jobs`,
    access: 'viewer',
    summary: 'Work in the background with its progress, the latest first, a page at a time',
    query: pageSchema,
    reply: answers(jobsReply),
  },
  readSetAside: {
    method: 'get',
    path: `${SITE}/set-aside`,
    access: 'owner',
    summary: 'Views and events that could not be counted, by reason',
    reply: answers(setAsideReply),
  },
  countSetAside: {
    method: 'post',
    path: `${SITE}/set-aside`,
    access: 'owner',
    summary: 'Try once more to count what was set aside',
    reply: answers(countedReply),
  },
  cancelJob: {
    method: 'delete',
    path: `${SITE}/jobs/{job}`,
    access: 'editor',
    summary: 'Cancel work in the background',
    reply: confirms('canceled'),
  },
} as const satisfies Record<string, Operation>

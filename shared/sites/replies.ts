import type { InferType } from '../yup'
import { TOKEN_SCOPES } from '../accounts/token'
import { experimentSummary } from '../experiments/replies'
import { amount, exactly, id, listOf, moment, oneOf, page, text, whole, yesOrNo } from '../api/replyPieces'

const rate = exactly({ currency: text(), from: text(), rate: amount() })
export type RateView = InferType<typeof rate>

export const siteReply = exactly({
  id: id(),
  name: text(),
  address: text(),
  key: text(),
  timeZone: text(),
  currency: text(),
  asksConsent: yesOrNo(),
  respectsDoNotTrack: yesOrNo(),
  /** Whether variants may bring scripts of their own to the pages. */
  allowsScripts: yesOrNo(),
  /** What one unit of other currencies is worth, by the day from which it holds. */
  rates: listOf(rate),
  largestAmount: amount(),
  /** Query parameters that are kept with addresses. */
  parameters: listOf(text()),
  /** What pages say of their visitors that is kept with views. */
  attributes: listOf(text()),
  eventDetails: listOf(text()),
  adParameters: exactly({ campaign: text(), group: text(), keyword: text() }),
  /** Where pages are told what their visitors see; null for nowhere. */
  handingOn: exactly({ list: text(), call: text(), event: yesOrNo() }).nullable().defined(),
  /** Other hosts with pages of the site. */
  hosts: listOf(text()),
  ownNetworks: listOf(text()),
  privateHosts: listOf(text()),
  retentionDays: whole(),
  servedDays: whole(),
  ownPath: text().nullable(),
  /** How long a page is held back at most, in ms. */
  longestWait: whole(),
  firstReportAt: moment().nullable(),
  /** The line that goes into the head of every page. */
  scriptLine: text(),
  /** Source expressions for a content security policy that restricts styles and scripts. */
  styleHash: text(),
  scriptHash: text(),
})
export type SiteView = InferType<typeof siteReply>

const setAside = exactly({ reason: text(), events: whole(), since: moment() })
/** Views and events that could not be counted for one reason. */
export type SetAsideView = InferType<typeof setAside>

export const setAsideReply = listOf(setAside)
export const countedReply = exactly({ counted: whole(), left: whole() })

const installationFinding = exactly({
  check: oneOf('reachable', 'present', 'key', 'head', 'first'),
  passed: yesOrNo(),
  text: text(),
})
export type InstallationFinding = InferType<typeof installationFinding>

export const installationReply = exactly({
  address: text(),
  findings: listOf(installationFinding),
  firstReportAt: moment().nullable(),
  /** Paths of the site's own pages that it links to. */
  links: listOf(text()),
})
export type InstallationReport = InferType<typeof installationReply>

const need = exactly({
  kind: oneOf(
    'allocation',
    'verdict',
    'silent',
    'drift',
    'set-aside',
    'install',
    'draft',
    'finding',
    'mention',
    'chance',
    'alarm',
    'served',
  ),
  title: text(),
  text: text(),
  link: text(),
})
export type TodayItem = InferType<typeof need>

export const todayReply = exactly({
  /** What needs a person, the most urgent first. */
  needs: listOf(need),
  /** What runs or is paused, the latest first. */
  live: listOf(experimentSummary),
  /** What ended in the last four weeks, the latest first. */
  ended: listOf(experimentSummary),
})
/** Where a site stands today. */
export type TodayView = InferType<typeof todayReply>

const token = {
  id: id(),
  name: text(),
  scope: oneOf(...TOKEN_SCOPES),
  beginning: text(),
  person: text().nullable(),
  createdAt: moment(),
  usedAt: moment().nullable(),
}
const tokenReply = exactly(token)
export type TokenView = InferType<typeof tokenReply>

export const tokensReply = page(tokenReply)
export const newTokenReply = exactly({
  ...token,
  /** The token itself: shown this once. */
  token: text(),
})
export type NewTokenView = InferType<typeof newTokenReply>

const job = exactly({
  id: id(),
  kind: oneOf('refold', 'pictures'),
  /** What it does, in words. */
  title: text(),
  state: oneOf('waiting', 'running', 'done', 'failed', 'canceled'),
  /** From 0 to 1. */
  progress: amount().min(0).max(1),
  experimentId: id().nullable(),
  /** Why it failed. */
  problem: text().nullable(),
  createdAt: moment(),
})
/** Work in the background that somebody has asked for. */
export type JobView = InferType<typeof job>

export const jobsReply = page(job)

import type { InstallationFinding, JobView, TodayItem } from './site'
import { TOKEN_SCOPES } from '../accounts/token'
import { experimentSummary } from '../experiments/replies'
import { amount, exactly, id, listOf, moment, oneOf, page, text, whole, yesOrNo } from '../api/replyPieces'

export const siteReply = exactly({
  id: id(),
  name: text(),
  address: text(),
  key: text(),
  timeZone: text(),
  currency: text(),
  asksConsent: yesOrNo(),
  allowsScripts: yesOrNo(),
  rates: listOf(exactly({ currency: text(), from: text(), rate: amount() })),
  largestAmount: amount(),
  parameters: listOf(text()),
  attributes: listOf(text()),
  eventDetails: listOf(text()),
  adParameters: exactly({ campaign: text(), group: text(), keyword: text() }),
  handingOn: exactly({ list: text(), call: text(), event: yesOrNo() }).nullable().defined(),
  hosts: listOf(text()),
  ownNetworks: listOf(text()),
  retentionDays: whole(),
  ownPath: text().nullable(),
  firstReportAt: moment().nullable(),
  scriptLine: text(),
  styleHash: text(),
})

export const setAsideReply = listOf(exactly({ reason: text(), events: whole(), since: moment() }))
export const countedReply = exactly({ counted: whole(), left: whole() })

export const installationReply = exactly({
  address: text(),
  findings: listOf(
    exactly({
      check: oneOf<InstallationFinding['check']>('reachable', 'present', 'key', 'head', 'first'),
      passed: yesOrNo(),
      text: text(),
    }),
  ),
  firstReportAt: moment().nullable(),
})

const need = exactly({
  kind: oneOf<TodayItem['kind']>(
    'allocation',
    'verdict',
    'silent',
    'drift',
    'set-aside',
    'install',
    'draft',
    'finding',
    'mention',
  ),
  title: text(),
  text: text(),
  link: text(),
})

export const todayReply = exactly({
  needs: listOf(need),
  live: listOf(experimentSummary),
  ended: listOf(experimentSummary),
})

const token = {
  id: id(),
  name: text(),
  scope: oneOf(...TOKEN_SCOPES),
  beginning: text(),
  person: text().nullable(),
  createdAt: moment(),
  usedAt: moment().nullable(),
}
export const tokensReply = page(exactly(token))
export const newTokenReply = exactly({ ...token, token: text() })

export const jobsReply = page(
  exactly({
    id: id(),
    kind: oneOf<JobView['kind']>('refold', 'pictures'),
    title: text(),
    state: oneOf<JobView['state']>('waiting', 'running', 'done', 'failed', 'canceled'),
    progress: amount().min(0).max(1),
    experimentId: id().nullable(),
    problem: text().nullable(),
    createdAt: moment(),
  }),
)

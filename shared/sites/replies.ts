import type {
  InstallationFinding,
  InstallationReport,
  JobView,
  RateView,
  SetAsideView,
  SiteView,
  TodayItem,
  TodayView,
} from './site'
import { TOKEN_SCOPES, type NewTokenView, type TokenView } from '../accounts/token'
import { experimentSummary } from '../experiments/replies'
import { amount, exactly, id, listOf, moment, oneOf, page, text, whole, yesOrNo } from '../api/replyPieces'

export const siteReply = exactly<SiteView>({
  id: id(),
  name: text(),
  address: text(),
  key: text(),
  timeZone: text(),
  currency: text(),
  asksConsent: yesOrNo(),
  allowsScripts: yesOrNo(),
  rates: listOf(exactly<RateView>({ currency: text(), from: text(), rate: amount() })),
  largestAmount: amount(),
  parameters: listOf(text()),
  attributes: listOf(text()),
  eventDetails: listOf(text()),
  adParameters: exactly<SiteView['adParameters']>({ campaign: text(), group: text(), keyword: text() }),
  handingOn: exactly<NonNullable<SiteView['handingOn']>>({ list: text(), call: text(), event: yesOrNo() })
    .nullable()
    .defined(),
  hosts: listOf(text()),
  ownNetworks: listOf(text()),
  retentionDays: whole(),
  ownPath: text().nullable(),
  firstReportAt: moment().nullable(),
  scriptLine: text(),
  styleHash: text(),
})

export const setAsideReply = listOf(exactly<SetAsideView>({ reason: text(), events: whole(), since: moment() }))
export const countedReply = exactly<{ counted: number; left: number }>({ counted: whole(), left: whole() })

export const installationReply = exactly<InstallationReport>({
  address: text(),
  findings: listOf(
    exactly<InstallationFinding>({
      check: oneOf<InstallationFinding['check']>('reachable', 'present', 'key', 'head', 'first'),
      passed: yesOrNo(),
      text: text(),
    }),
  ),
  firstReportAt: moment().nullable(),
})

const need = exactly<TodayItem>({
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

export const todayReply = exactly<TodayView>({
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
export const tokensReply = page(exactly<TokenView>(token))
export const newTokenReply = exactly<NewTokenView>({ ...token, token: text() })

export const jobsReply = page(
  exactly<JobView>({
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

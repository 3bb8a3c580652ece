import type { ExperimentSheet, ExperimentSummary } from '../../shared/experiments/replies'
import type { TodayItem, TodayView } from '../../shared/sites/replies'
import { count, eq } from 'drizzle-orm'
import { siteDays } from '../../core/time/siteDay'
import type { Queries } from '../database/connect'
import { setAside } from '../database/schema'
import { readSummaries, withoutDays, type SummaryRow } from './experiments/listExperiments'
import { driftOf, pausedFor } from './experiments/driftCheck'
import { findingsOfDraft } from './experiments/draftFindings'
import type { LookAtTraffic } from './experiments/lookAtTraffic'
import { NOT_ANSWERED, openApprovals } from './experiments/review'
import { listSheets } from './experiments/sheet'
import { settledAmong } from './experiments/splitSettlement'
import { listFindings } from './findings/findings'
import { openMentions } from './hypotheses/comments'
import { builtInAtHome } from './goingHome/lookAtHome'
import { liveRollouts } from './rollouts/liveRollouts'
import { findSite } from './sites/sites'
import { listAlarms } from './watch/alarms'
import { ALARM_WORDS, alarmTitle } from '../../core/watch/finding'
import { alarmLink } from '../../shared/watch/alarmLink'
import type { AlarmView } from '../../shared/watch/replies'
import { HOUR } from '../../core/time/units'
import { formatShare } from '../../shared/formats'

const HOURS_OF_SILENCE = 24
const CONCLUSIVE = new Set(['ship', 'ship-low-risk', 'no-difference', 'harm', 'open'])

const LATELY_DAYS = 28

/**
 * Where a site stands. Read from stored summaries: nothing is computed here, but for drafts that lack nothing.
 *
 * @param look - looks at what would keep a draft from being started; left out for whoever may start none
 */
export async function today(
  database: Queries,
  siteId: number,
  now: Date,
  personId: number | null = null,
  look?: LookAtTraffic,
): Promise<TodayView> {
  const live = await readSummaries(database, siteId, ['running', 'paused'])
  const since = new Date(now.getTime() - LATELY_DAYS * 24 * HOUR).toISOString()
  const ended = (await readSummaries(database, siteId, ['ended'], 'test'))
    .filter(({ endedAt }) => endedAt !== null && endedAt >= since)
    .sort((a, b) => (a.endedAt! > b.endedAt! ? -1 : 1))
  const needs = await readNeeds(database, siteId, live, now)
  const drafts = await listSheets(database, siteId, ['draft'])
  const running = live.map(({ id }) => id)
  const ready = await Promise.all(drafts.map((sheet) => draftItem(sheet, running, now, look)))
  return {
    needs: [...needs, ...(personId === null ? [] : await askedItems(database, siteId, personId, now)), ...ready.flat()],
    // What is served stands among the rollouts; here it is told of once it needs somebody.
    live: live.filter(({ purpose }) => purpose === 'test').map(withoutDays),
    ended: ended.map(withoutDays),
  }
}

async function readNeeds(
  database: Queries,
  siteId: number,
  live: readonly SummaryRow[],
  now: Date,
): Promise<TodayItem[]> {
  const site = await findSite(database, siteId)
  const since = now.getTime() - HOURS_OF_SILENCE * HOUR
  // Days are the site's own, as those of the visitors are.
  const yesterday = siteDays(site.timeZone)(since)
  const link = linkOf(siteId)
  const alarms = await listAlarms(database, siteId, { experiment: undefined, rollout: undefined, open: true }, now)
  const distrusted = live.filter(({ verdict }) => verdict?.kind === 'distrust')
  const settled = await settledAmong(
    database,
    siteId,
    distrusted.map(({ id }) => id),
  )
  return [
    ...distrusted.filter(({ id }) => !settled.has(id)).map((each) => brokenItem(each, link)),
    ...alarmItems(siteId, alarms),
    ...live
      .filter(({ id }) => !alarms.some((each) => each.experimentId === id && each.check === 'visitors'))
      .flatMap((each) => silentItem(each, { since, yesterday }, link)),
    ...driftItems(
      live,
      await driftOf(
        database,
        siteId,
        live.map(({ id }) => id),
      ),
      link,
    ),
    ...pausedItems(live, await pausedFor(database, siteId), link),
    ...(await setAsideItems(database, siteId)),
    ...live.flatMap((each) => readyItem(each, link)),
    ...live.flatMap((each) => chanceItem(each, link)),
    ...(site.firstReportAt ? [] : [installItem(siteId)]),
    ...(await findingItems(database, siteId)),
    ...(await servedItems(database, site, live, now)),
  ]
}

type Link = (id: number) => string
const linkOf =
  (siteId: number): Link =>
  (id) =>
    `/sites/${siteId}/experiments/${id}`

function brokenItem({ id, name, verdict }: ExperimentSummary, link: Link): TodayItem {
  const text = verdict!.reasons.join(' ')
  return { kind: 'allocation', title: `${name}: data not sound`, text, link: `${link(id)}#split` }
}

/** Told by items of their own: what the verdict of an experiment says, and what its pages say. */
const TOLD_OTHERWISE: ReadonlySet<AlarmView['check']> = new Set(['split', 'guardrail', 'page'])

/** What is wrong and nobody has taken on. */
function alarmItems(siteId: number, alarms: readonly AlarmView[]): TodayItem[] {
  return alarms
    .filter(({ check, acknowledged, rolloutId }) => {
      const isToldOtherwise = rolloutId === null && TOLD_OTHERWISE.has(check)
      return acknowledged === null && !isToldOtherwise
    })
    .map((alarm) => ({
      kind: 'alarm',
      title: alarm.name === null ? alarmTitle(alarm.check) : `${alarm.name}: ${ALARM_WORDS[alarm.check]}`,
      text: alarm.text,
      link: alarmLink(siteId, alarm),
    }))
}

function readyItem({ id, name, verdict }: ExperimentSummary, link: Link): TodayItem[] {
  if (!verdict || !CONCLUSIVE.has(verdict.kind)) return []
  return [{ kind: 'verdict', title: `${name}: ${verdict.title}`, text: verdict.reasons.join(' '), link: link(id) }]
}

/** What has been served for so long that it is to be built into the site itself. */
async function servedItems(
  database: Queries,
  { id: siteId, servedDays }: { id: number; servedDays: number },
  live: readonly SummaryRow[],
  now: Date,
): Promise<TodayItem[]> {
  const winners = (await liveRollouts(database, siteId)).map(({ row, from }) => ({
    name: from.name,
    since: row.createdAt.getTime(),
    path: `rollouts/${row.id}`,
    sheet: from.id,
  }))
  const personalizations = live
    .filter(({ purpose, state }) => purpose === 'serve' && state === 'running')
    .map(({ id, name, startedAt }) => ({ name, since: Date.parse(startedAt!), path: `experiments/${id}`, sheet: id }))
  const builtIn = await builtInAtHome(database, siteId)
  return [...winners, ...personalizations].flatMap(({ name, since, path, sheet }): TodayItem[] => {
    const days = Math.floor((now.getTime() - since) / (24 * HOUR))
    const link = `/sites/${siteId}/${path}`
    if (builtIn.has(sheet)) {
      const said = 'The site itself has it by now. Stop it here.'
      return [{ kind: 'served', title: `${name} is no longer needed`, text: said, link }]
    }
    if (days < servedDays) return []
    const text = 'Build it into the site, then stop it here. There is a text for developers.'
    return [{ kind: 'served', title: `${name} has been served for ${days} days`, text, link }]
  })
}

/** What goes on with less of a chance than its plan asks for. */
function chanceItem({ id, name, littleChance }: SummaryRow, link: Link): TodayItem[] {
  if (littleChance === null || littleChance === undefined) return []
  const text = `The chance that it still ends with Ship is ${formatShare(littleChance, 0)}. The plan advises to stop.`
  return [{ kind: 'chance', title: `${name}: little chance to end with Ship`, text, link: link(id) }]
}

function silentItem(
  { id, name, state, startedAt, lastDays }: SummaryRow,
  { since, yesterday }: { since: number; yesterday: string },
  link: Link,
): TodayItem[] {
  if (state !== 'running' || !startedAt || Date.parse(startedAt) >= since) return []
  if (lastDays.some(({ day, visitors }) => day >= yesterday && visitors > 0)) return []
  const text = 'Nobody new has seen it since yesterday. Check that the page still carries the script line.'
  return [{ kind: 'silent', title: `${name} has no visitors`, text, link: link(id) }]
}

function driftItems(live: readonly SummaryRow[], drift: ReadonlyMap<number, string[]>, link: Link): TodayItem[] {
  return live.flatMap(({ id, name, state }): TodayItem[] => {
    const said = state === 'running' ? (drift.get(id) ?? []) : []
    if (said.length === 0) return []
    return [{ kind: 'drift', title: `The page of ${name} has changed`, text: said.join(' '), link: link(id) }]
  })
}

/** What has stopped itself so that no visitor comes to a page that fails. */
function pausedItems(live: readonly SummaryRow[], reasons: ReadonlyMap<number, string>, link: Link): TodayItem[] {
  return live.flatMap(({ id, name, state }): TodayItem[] => {
    const reason = state === 'paused' ? reasons.get(id) : undefined
    return reason ? [{ kind: 'drift', title: `${name} has paused itself`, text: reason, link: link(id) }] : []
  })
}

async function setAsideItems(database: Queries, siteId: number): Promise<TodayItem[]> {
  const [found] = await database.select({ events: count() }).from(setAside).where(eq(setAside.siteId, siteId))
  if (!found || found.events === 0) return []
  const title = `${found.events.toLocaleString('en-US')} event${found.events === 1 ? '' : 's'} could not be counted`
  const text = 'They are set aside. An owner can see why, and count them once the cause is fixed.'
  return [{ kind: 'set-aside', title, text, link: `/sites/${siteId}/setup/site#set-aside` }]
}

/** What is severe and nobody has taken up. */
async function findingItems(database: Queries, siteId: number): Promise<TodayItem[]> {
  const { findings } = await listFindings(database, siteId, { state: 'open' })
  const severe = findings.filter(({ severity }) => severity === 'high')
  if (severe.length === 0) return []
  const title = severe.length === 1 ? severe[0]!.title : `${severe.length} severe findings wait`
  const text = severe.length === 1 ? 'No hypothesis yet.' : severe.map((each) => each.title).join('; ')
  return [{ kind: 'finding', title, text, link: `/sites/${siteId}/evidence/findings?state=open` }]
}

/** What others want to know of whoever looks. */
async function askedItems(database: Queries, siteId: number, personId: number, now: Date): Promise<TodayItem[]> {
  const approvals = (await openApprovals(database, siteId, personId)).map(({ experimentId, name, by }): TodayItem => ({
    kind: 'mention',
    title: `${by ?? 'Somebody'} asks you to approve “${name}”`,

    text: 'It waits for your answer.',
    link: `/sites/${siteId}/experiments/${experimentId}#review`,
  }))
  const mentions = (await openMentions(database, siteId, personId, now)).map(({ hypothesisId, title, words, by }) => ({
    kind: 'mention' as const,
    title: `${by ?? 'Somebody'} asks you about “${title}”`,
    text: words,
    link: `/sites/${siteId}/hypotheses/${hypothesisId}`,
  }))
  return [...approvals, ...mentions]
}

function installItem(siteId: number): TodayItem {
  const text = 'Put the script line on the site’s pages, then check the installation.'
  return { kind: 'install', title: 'No visitor has reported yet', text, link: `/sites/${siteId}/setup/site` }
}

/** A draft that could be started now, or did not start by itself. */
async function draftItem(
  sheet: ExperimentSheet,
  running: readonly number[],
  now: Date,
  look: LookAtTraffic | undefined,
): Promise<TodayItem[]> {
  const { siteId, id, name, preflight, schedule } = sheet
  const item = (title: string, text: string): TodayItem[] => [{ kind: 'draft', title, text, link: linkOf(siteId)(id) }]
  if (schedule.problem !== null) return item(`${name} did not start by itself`, schedule.problem)
  // What starts by itself waits for nobody.
  if (schedule.start !== null || preflight.length > 0 || !look) return []
  const findings = await findingsOfDraft(sheet, running, look, now)
  if (findings === null) return item(`${name} lacks nothing`, 'Open it to see whether anything keeps it from starting.')
  if (findings.some(({ isStop }) => isStop)) return []
  const waits = findings.find(({ text }) => text.endsWith(NOT_ANSWERED))
  return waits
    ? item(`${name} waits for approval`, waits.text)
    : item(`${name} can start`, 'Nothing is missing any more.')
}

import { and, gt, gte, inArray } from 'drizzle-orm'
import type { TodayItem } from '../../shared/site'
import type { ExperimentSheet, ExperimentSummary } from '../../shared/experiment'
import type { Queries } from '../database/connect'
import { exposureCount } from '../database/schema'
import { listSheets } from './experiments/sheet'
import { summarize } from './results/results'
import { findSite } from './sites/sites'

const HOURS_OF_SILENCE = 24
const CONCLUSIVE = new Set(['ship', 'ship-low-risk', 'no-difference', 'harm', 'open'])

/** What needs a person now, the most urgent first. */
export async function today(database: Queries, siteId: number, now: Date): Promise<TodayItem[]> {
  const site = await findSite(database, siteId)
  const sheets = await listSheets(database, siteId)
  const summaries = await summarize(database, sheets, now)
  const link = (id: number) => `/sites/${siteId}/experiments/${id}`
  const live = summaries.filter((each) => each.state === 'running' || each.state === 'paused')
  const running = summaries.filter((each) => each.state === 'running')

  const broken = live
    .filter((each) => each.verdict?.kind === 'distrust')
    .map((each): TodayItem => ({
      kind: 'allocation',
      title: `${each.name} is broken`,
      text: each.verdict!.reasons.join(' '),
      link: link(each.id),
    }))
  const silent = await silentItems(database, running, now, link)
  const ready = live
    .filter((each) => each.verdict && CONCLUSIVE.has(each.verdict.kind))
    .map((each): TodayItem => ({
      kind: 'verdict',
      title: `${each.name}: ${each.verdict!.title}`,
      text: each.verdict!.reasons.join(' '),
      link: link(each.id),
    }))
  const install: TodayItem[] = site.firstReportAt
    ? []
    : [
        {
          kind: 'install',
          title: 'No visitor has reported yet',
          text: 'Put the script line on the site’s pages, then check the installation.',
          link: `/sites/${siteId}/setup/site`,
        },
      ]
  return [...broken, ...silent, ...ready, ...install, ...draftItems(sheets, link)]
}

async function silentItems(
  database: Queries,
  running: readonly ExperimentSummary[],
  now: Date,
  link: (id: number) => string,
): Promise<TodayItem[]> {
  const since = new Date(now.getTime() - HOURS_OF_SILENCE * 3_600_000)
  const old = running.filter((each) => each.startedAt && new Date(each.startedAt) < since)
  if (old.length === 0) return []
  const heard = await database
    .selectDistinctOn([exposureCount.experimentId], { id: exposureCount.experimentId })
    .from(exposureCount)
    .where(
      and(
        inArray(
          exposureCount.experimentId,
          old.map((each) => each.id),
        ),
        gte(exposureCount.day, since.toISOString().slice(0, 10)),
        gt(exposureCount.visitors, 0),
      ),
    )
  const loud = new Set(heard.map((row) => row.id))
  return old
    .filter((each) => !loud.has(each.id))
    .map((each) => ({
      kind: 'silent',
      title: `${each.name} has no visitors`,
      text: `Nobody new has seen it since yesterday. Check that the page still carries the script line.`,
      link: link(each.id),
    }))
}

function draftItems(sheets: readonly ExperimentSheet[], link: (id: number) => string): TodayItem[] {
  return sheets
    .filter((sheet) => sheet.state === 'draft' && sheet.preflight.length === 0)
    .map((sheet) => ({
      kind: 'draft',
      title: `${sheet.name} can start`,
      text: 'Nothing is missing any more.',
      link: link(sheet.id),
    }))
}

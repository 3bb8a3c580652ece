import type {
  EventsView,
  FormsView,
  FunnelView,
  LeftView,
  OverTimeView,
  PagesView,
} from '../../../shared/evidence/replies'
import type { SurveyCounts } from '../../../shared/surveys/replies'
import type { Pool } from 'pg'
import { findCandidates, type Candidates } from '../../../core/evidence/candidates/candidates'
import { clickMap, readingMap } from '../../../core/evidence/clickMap'
import { eventKinds } from '../../../core/evidence/eventKinds'
import { formReports } from '../../../core/evidence/formReport'
import type { CountedSource } from '../../../core/evidence/countedSteps'
import { funnelReport, leftAt, type FunnelPlan } from '../../../core/evidence/funnel'
import { ACTIVE_DAYS, overTime } from '../../../core/evidence/overTime'
import { pageFlow, pageReport } from '../../../core/evidence/pageReport'
import { reachOf, type Reach } from '../../../core/evidence/reach'
import { selectSessions, type SegmentPart } from '../../../core/evidence/selection'
import { surveyCounts, surveyReport, type SurveyReport } from '../../../core/evidence/surveyReport'
import { stripsOf, type Happened, type Strip } from '../../../core/evidence/strips'
import { DIMENSIONS, KIND, type Dimension, type Visits } from '../../../core/evidence/visits'
import { periodStarts, type Period } from '../../../core/time/periods'
import { dayAfter, firstMoment, firstMoments } from '../../../core/time/siteDay'
import {
  daysBetween,
  rangeBefore,
  readPage,
  readSegment,
  sameWeekdaysBefore,
  type FilterQuery,
} from '../../../shared/evidence/filter'
import type { FunnelInput } from '../../../shared/evidence/funnel'
import type { ClicksView, FlowView, ReadingView } from '../../../shared/evidence/reports'
import { HttpProblem } from '../HttpProblem'
import { heldOutOf, type HeldOutAnswer, type HeldOutQuestion } from './heldOut'
import { metricCount, metricSource, type MetricCount } from './metricSource'
import { EXPOSED_TO } from './queries'
import type { SiteVisits } from './siteVisits'

const MOST_PAGES = 2000
const MOST_LEFT = 200
const LATELY_DAYS = 28
const MOST_VALUES = 12
const MOST_ATTRIBUTES = 300
const MOST_LISTED_PAGES = 300

interface MapQuestion extends FilterQuery {
  of: string
  widthFrom: number
  widthBelow: number
}
type ValuesView = { dimensions: { dimension: Dimension; values: string[] }[]; attributes: string[]; pages: string[] }

/** What can be asked of a site's visits, and how it is answered. */
export interface Questions {
  pages: { question: FilterQuery & { metric?: string }; answer: PagesView }
  flow: { question: FilterQuery & { of: string }; answer: FlowView }
  overTime: { question: FilterQuery & { by?: Dimension; metric?: string; per?: Period }; answer: OverTimeView }
  events: { question: { from: string; to: string }; answer: Omit<EventsView, 'refusals'> }
  funnel: { question: FilterQuery & { plan: FunnelInput }; answer: FunnelView }
  left: { question: FilterQuery & { plan: FunnelInput; step: number }; answer: LeftView }
  forms: { question: FilterQuery; answer: FormsView }
  clicks: { question: MapQuestion & { kind: 'click' | 'rage' | 'dead' }; answer: ClicksView }
  reading: { question: MapQuestion; answer: ReadingView }
  survey: { question: FilterQuery & { survey: number }; answer: SurveyReport }
  surveys: { question: FilterQuery; answer: SurveyCounts }
  candidates: { question: FilterQuery; answer: Candidates }
  reach: {
    question: { from: string; to: string; ideas: readonly IdeaAsked[] }
    answer: { reached: Reach[] }
  }
  /** Of everybody on any page, for definitions that may be of no metric yet. */
  counted: {
    question: { from: string; to: string; asked: readonly (MetricCount & { other?: CountedSource })[] }
    answer: { reached: Reach[] }
  }
  heldOut: { question: HeldOutQuestion; answer: HeldOutAnswer }
  values: { question: { today: string }; answer: ValuesView }
  strips: {
    question: Partial<FilterQuery> & {
      sessions: { visitor: string; session: string }[]
      happened: Happened
      /** Of those only who left a way after a step. */
      left?: { plan: FunnelInput; step: number }
    }
    answer: { strips: Strip[] }
  }
}
export type Asked = keyof Questions

/** Pages and an audience as filters write them, empty for all, and a metric of the site. */
export interface IdeaAsked {
  pages: string
  audience: string
  metricId: string
}

/** What answers are made from. */
export interface Source {
  pool: Pool
  siteId: number
  site: SiteVisits
}
type Answers = {
  [Ask in Asked]: (source: Source, question: Questions[Ask]['question']) => Promise<Questions[Ask]['answer']>
}

export const ANSWERS: Answers = {
  async pages(source, question) {
    const { visits, basis } = source.site
    const metric = await metricSource(source, question.metric)
    const days = daysOf(question)
    const selected = await sessionsOf(source, question)
    const figures = pageReport(visits, selected, firstMoments(question.from, question.to, basis.timeZone), metric)
    const earlier = rangeBefore(question)
    const moments = [earlier.from, earlier.to, question.from].map((day) => firstMoment(day, basis.timeZone))
    const earlierFigures = pageReport(visits, await sessionsOf(source, earlier), [moments[0]!, moments[2]!], metric)
    const before = new Map(earlierFigures.map(({ page, days: _, ...rest }) => [page, rest]))
    return {
      days,
      ...countSelected(visits, selected),
      others: Math.max(0, figures.length - MOST_PAGES),
      pages: figures.slice(0, MOST_PAGES).map((each) => ({ ...each, before: before.get(each.page) ?? null })),
    }
  },

  async flow(source, question) {
    return pageFlow(source.site.visits, await sessionsOf(source, question), question.of)
  },

  async overTime(source, question) {
    const { visits, basis } = source.site
    const lead = ACTIVE_DAYS.monthly - 1
    const first = dayAfter(question.from, -lead)
    const selected = await sessionsOf(source, { ...question, from: first })
    const periods = periodStarts(question.from, question.to, question.per ?? 'day')
    const shown = {
      days: firstMoments(first, question.to, basis.timeZone),
      starts: periods.map((day) => lead + daysBetween(question.from, day)),
    }
    const metric = await metricSource(source, question.metric)
    const count = async (filter: FilterQuery) => {
      const those = await sessionsOf(source, filter)
      return { ...countSelected(visits, those), views: countViews(visits, those) }
    }
    return {
      days: periods,
      series: overTime(visits, selected, shown, question.by ?? null, metric),
      total: await count(question),
      before: await count(rangeBefore(question)),
    }
  },

  async events({ site: { visits, basis } }, question) {
    return {
      days: daysOf(question),
      kinds: eventKinds(visits, firstMoments(question.from, question.to, basis.timeZone)),
    }
  },

  async funnel(source, question) {
    const { visits, basis } = source.site
    const moments = firstMoments(question.from, question.to, basis.timeZone)
    const report = funnelReport(visits, await sessionsOf(source, question), planOf(question.plan), moments)
    return { ...report, dayNames: daysOf(question) }
  },

  async left(source, question) {
    const selected = await sessionsOf(source, question)
    const left = leftAt(source.site.visits, selected, planOf(question.plan), question.step, MOST_LEFT)
    return { visitors: left.map(({ visitor, at }) => ({ visitor, at: new Date(at).toISOString() })) }
  },

  async forms(source, question) {
    return { forms: formReports(source.site.visits, await sessionsOf(source, question)) }
  },

  async clicks(source, question) {
    const width = { from: question.widthFrom, until: question.widthBelow }
    return clickMap(
      source.site.visits,
      await sessionsOf(source, question),
      readPage(question.of)!,
      question.kind,
      width,
    )
  },

  async reading(source, question) {
    const width = { from: question.widthFrom, until: question.widthBelow }
    return readingMap(source.site.visits, await sessionsOf(source, question), readPage(question.of)!, width)
  },

  async survey(source, question) {
    return surveyReport(source.site.visits, await sessionsOf(source, question), question.survey)
  },

  async surveys(source, question) {
    const counts = surveyCounts(source.site.visits, await sessionsOf(source, question))
    return { surveys: [...counts].map(([survey, each]) => ({ survey, ...each })) }
  },

  async candidates(source, question) {
    const before = await sessionsOf(source, sameWeekdaysBefore(question))
    return findCandidates(source.site.visits, await sessionsOf(source, question), before)
  },

  async reach(source, { ideas, ...days }) {
    // Of everybody in an audience several ideas are told: its sessions are looked up once.
    const selected = new Map<string, Uint8Array>()
    for (const { audience } of ideas)
      if (!selected.has(audience))
        selected.set(audience, await sessionsOf(source, { ...days, segment: audience || undefined }))
    const reached: Reach[] = []
    for (const { pages, audience, metricId } of ideas) {
      const metric = await metricCount(source, metricId)
      const rule = pages ? readPage(pages) : null
      reached.push(reachOf(source.site.visits, selected.get(audience)!, rule, metric.source, metric.cap))
    }
    return { reached }
  },

  async counted(source, { asked, ...days }) {
    const selected = await sessionsOf(source, days)
    return {
      reached: asked.map((each) =>
        reachOf(source.site.visits, selected, null, each.source, each.cap, each.other ?? null),
      ),
    }
  },

  async heldOut({ site }, question) {
    return heldOutOf(site, question)
  },

  async strips(source, { sessions, happened, left, ...filter }) {
    const { visits } = source.site
    const isAnyTime = filter.from === undefined || filter.to === undefined
    const selected = isAnyTime
      ? selectSessions(visits, { from: -Infinity, until: Infinity, segment: [], page: null })
      : await sessionsOf(source, filter as FilterQuery)
    if (!left) return { strips: stripsOf(visits, selected, sessions, happened) }
    const walks = leftAt(visits, selected, planOf(left.plan), left.step, Infinity)
    const visitors = new Set(walks.map(({ visitor }) => visitor))
    const those = sessions.filter(({ visitor }) => visitors.has(visitor))
    return { strips: stripsOf(visits, selected, those, happened) }
  },

  async values(source, { today }) {
    const { visits } = source.site
    const lately = { from: dayAfter(today, 1 - LATELY_DAYS), to: today }
    const selected = await sessionsOf(source, lately)
    const moments = [lately.from, dayAfter(today)].map((day) => firstMoment(day, source.site.basis.timeZone))
    return {
      dimensions: DIMENSIONS.map((dimension) => ({ dimension, values: mostFrequent(visits, selected, dimension) })),
      attributes: visits.attributes.texts.filter((told) => told !== '').slice(0, MOST_ATTRIBUTES),
      pages: pageReport(visits, selected, moments, null)
        .slice(0, MOST_LISTED_PAGES)
        .map(({ page }) => page),
    }
  },
}

function daysOf({ from, to }: { from: string; to: string }): string[] {
  return Array.from({ length: daysBetween(from, to) + 1 }, (_, index) => dayAfter(from, index))
}

export async function sessionsOf(source: Source, { from, to, segment, page }: FilterQuery): Promise<Uint8Array> {
  const { visits, basis } = source.site
  return selectSessions(visits, {
    from: firstMoment(from, basis.timeZone),
    until: firstMoment(dayAfter(to), basis.timeZone),
    segment: await segmentOf(source, segment),
    page: page ? readPage(page) : null,
  })
}

async function segmentOf(source: Source, text: string | undefined): Promise<SegmentPart[]> {
  const parts: SegmentPart[] = []
  for (const { name, value } of (text && readSegment(text)) || []) {
    if (name === 'variant') parts.push({ kind: 'variant', exposures: await exposuresOf(source, value) })
    else if (name === 'converted' || name === 'unconverted')
      parts.push({ kind: 'converted', source: (await metricSource(source, value))!, isConverted: name === 'converted' })
    else if (name === 'attribute') parts.push({ kind: 'attribute', told: value })
    else parts.push({ kind: 'dimension', dimension: name, value })
  }
  return parts
}

/** Visitors of a variant, such as 5.1, with the moment of their exposure. */
async function exposuresOf({ pool, siteId, site }: Source, value: string): Promise<ReadonlyMap<number, number>> {
  const [experiment, position] = value.split('.').map(Number)
  if (!Number.isInteger(experiment) || !Number.isInteger(position) || experiment! > 2_147_483_647 || position! > 99)
    throw new HttpProblem(422, 'Name a variant by the number of its experiment and its place, such as 5.1.')
  const { rows } = await pool.query<{ visitor: string; at: number }>(EXPOSED_TO, [siteId, experiment, position])
  const known = rows.flatMap(({ visitor, at }): [number, number][] => {
    const number = site.visits.visitorOf(visitor)
    return number === undefined ? [] : [[number, at]]
  })
  return new Map(known)
}

export function planOf({ steps, isStrict, limitMinutes, isWithinSession }: FunnelInput): FunnelPlan {
  return {
    steps: steps.map(({ source }) => source),
    isStrict,
    limit: limitMinutes === null ? null : limitMinutes * 60_000,
    isWithinSession,
  }
}

function countSelected(visits: Visits, selected: Uint8Array): { sessions: number; visitors: number } {
  const visitors = new Uint8Array(visits.visitorCount)
  let sessions = 0
  for (let session = 0; session < selected.length; session++)
    if (selected[session] === 1) {
      sessions++
      visitors[visits.sessionVisitor.values[session]!] = 1
    }
  return { sessions, visitors: visitors.reduce((sum, each) => sum + each, 0) }
}

function countViews(visits: Visits, selected: Uint8Array): number {
  let views = 0
  for (const { count, kind, session } of visits.blocks())
    for (let row = 0; row < count; row++) if (kind[row] === KIND.page && selected[session[row]!] === 1) views++
  return views
}

function mostFrequent(visits: Visits, selected: Uint8Array, dimension: Dimension): string[] {
  const { texts, size } = visits.dimensions[dimension]
  const values = visits.sessionDimensions[dimension].values
  const counts = new Uint32Array(size)
  for (let session = 0; session < selected.length; session++) if (selected[session] === 1) counts[values[session]!]!++
  return [...counts.keys()]
    .filter((value) => value > 0 && counts[value]! > 0)
    .sort((a, b) => counts[b]! - counts[a]!)
    .slice(0, MOST_VALUES)
    .map((value) => texts[value]!)
}

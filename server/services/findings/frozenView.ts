import type { FindingNow } from '../../../shared/findings/replies'
import {
  clickFigures,
  compareFigures,
  eventFigures,
  formFigures,
  funnelFigures,
  pageFigures,
  pagesFigures,
  readingFigures,
  surveyFigures,
  type Figure,
} from '../../../core/evidence/figures'
import { dayAfter, siteDays } from '../../../core/time/siteDay'
import { daysBetween } from '../../../shared/evidence/filter'
import type { FrozenInput, FrozenReport, FrozenView } from '../../../shared/findings/finding'
import type { Queries } from '../../database/connect'
import type { Questions } from '../evidence/answers'
import type { EvidenceThread } from '../evidence/askEvidence'
import { HttpProblem } from '../HttpProblem'
import { findSite } from '../sites/sites'
import { findSurvey } from '../surveys/surveys'

type Ask = Pick<EvidenceThread, 'ask'>
interface Place {
  database: Queries
  evidence: Ask
  siteId: number
}
type Days = { from: string; to: string }

/** The figures of a report as it is now. */
type ReadFigures = (place: Place, question: never, focus: string | null) => Promise<Figure[]>

const READERS: Record<FrozenReport, ReadFigures> = {
  async pages({ evidence, siteId }, question: Questions['pages']['question'], focus) {
    const { pages } = await evidence.ask(siteId, 'pages', question)
    const hasMetric = question.metric !== undefined
    if (focus === null) return pagesFigures(pages, hasMetric)
    const own = pages.find(({ page }) => page === focus)
    return own ? pageFigures(own, hasMetric) : []
  },
  async overTime({ evidence, siteId }, question: Questions['overTime']['question']) {
    const { total } = await evidence.ask(siteId, 'overTime', question)
    return [
      { key: 'visitors', label: 'Visitors', kind: 'count', value: total.visitors },
      { key: 'sessions', label: 'Sessions', kind: 'count', value: total.sessions },
      { key: 'views', label: 'Page views', kind: 'count', value: total.views },
    ]
  },
  async forms({ evidence, siteId }, question: Questions['forms']['question'], focus) {
    const { forms } = await evidence.ask(siteId, 'forms', question)
    const own = forms.find(({ page, form }) => `${page} ${form}` === focus) ?? (focus === null ? forms[0] : undefined)
    return own ? formFigures(own) : []
  },
  async funnel({ evidence, siteId }, question: Questions['funnel']['question']) {
    const report = await evidence.ask(siteId, 'funnel', question)
    return funnelFigures(
      question.plan.steps.map(({ name }) => name),
      report,
    )
  },
  async clicks({ evidence, siteId }, question: Questions['clicks']['question']) {
    return clickFigures(await evidence.ask(siteId, 'clicks', question))
  },
  async reading({ evidence, siteId }, question: Questions['reading']['question']) {
    return readingFigures(await evidence.ask(siteId, 'reading', question))
  },
  async survey({ database, evidence, siteId }, question: Questions['survey']['question']) {
    const { content } = await findSurvey(database, siteId, question.survey)
    return surveyFigures(content.questions, await evidence.ask(siteId, 'survey', question))
  },
  async events({ evidence, siteId }, question: Questions['events']['question']) {
    return eventFigures((await evidence.ask(siteId, 'events', question)).kinds)
  },
  recording: () => Promise.resolve([]),
}

function readFigures(place: Place, { report, question, focus }: FrozenInput): Promise<Figure[]> {
  return READERS[report](place, question as never, focus)
}

/** Keeps a view: what was asked, with the figures that it has at this moment. */
export async function freezeView(place: Place, frozen: FrozenInput, now: Date): Promise<FrozenView> {
  return { ...frozen, figures: await readFigures(place, frozen), at: now.toISOString() }
}

/**
 * Asks what was frozen again, for as many days up to today.
 *
 * @throws HttpProblem 404 for a view without days, such as a recording
 */
export async function askAgain(place: Place, frozen: FrozenView, now: Date): Promise<FindingNow> {
  const days = frozen.question as Partial<Days>
  if (!days.from || !days.to) throw new HttpProblem(404, 'This finding has no figures that could be asked again.')
  const { timeZone } = await findSite(place.database, place.siteId)
  const to = siteDays(timeZone)(now.getTime())
  const from = dayAfter(to, -daysBetween(days.from, days.to))
  const figures = await readFigures(place, { ...frozen, question: { ...frozen.question, from, to } as never })
  const isLater = from > days.to
  return { from, to, isLater, changes: compareFigures(frozen.figures, figures, isLater) }
}

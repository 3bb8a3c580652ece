import type { CollectedEvent } from '../../shared/intake/collect'
import { LOST_REPORTS, TRUE_EFFECTS, type Step } from './effects'
import type { DemoElement } from './elements'
import type { Random } from './random'
import type { Visitor } from './visitor'

/** Something that happens on a page, some ms after it was opened. */
export type PageEvent = Omit<CollectedEvent, 'id' | 'view'> & { after: number }

/** What happens on one page. */
export interface PageVisit {
  /** Path with its query. */
  path: string
  title: string
  /** Origin that led here; only of the first page. */
  referrer?: string
  /** ms until the next page is opened */
  stay: number
  events: PageEvent[]
}

/** Which experiments a visitor meets on a page: the salt names the effect, the others go into the event. */
export interface Met {
  experiment: number
  salt: string
  variant: number
  /** Of a split that moves. */
  period?: number
}

/** What a visitor does on a site in one session, page by page, given the experiments met on a path. */
export type Journey = (random: Random, visitor: Visitor, meet: (path: string) => Met[]) => PageVisit[]

const ERRORS = 0.006

/** A session under way: the pages opened so far, and what a visitor of these experiments does on them. */
export interface Session {
  pages: PageVisit[]
  openPage: (path: string, title: string) => PageVisit
  click: (page: PageVisit, element: DemoElement, after?: number) => void
  /** Whether the visitor takes a step, by how probable it is, how eager they are, and what the variants do to it. */
  goes: (probability: number, step?: Step) => boolean
  /** What the variants met so far do to a step. */
  factor: (step: Step) => number
  /** Whether nothing of this session arrives. */
  isLost: () => boolean
}

export function openSession(random: Random, visitor: Visitor, meet: (path: string) => Met[]): Session {
  const met = new Map<string, Met>()
  const pages: PageVisit[] = []
  const [width] = visitor.screen
  let isLost = false

  const factor = (step: Step) => {
    let product = 1
    for (const { salt, variant } of met.values()) {
      if (TRUE_EFFECTS[salt]?.step === step) product *= TRUE_EFFECTS[salt].factors[variant] ?? 1
    }
    return product
  }

  return {
    pages,
    factor,
    isLost: () => isLost,
    goes: (probability, step) =>
      random.chance(Math.min(0.97, probability * visitor.eagerness * (step ? factor(step) : 1))),
    openPage(path, title) {
      const isEntry = pages.length === 0
      const campaign = isEntry && visitor.campaign ? `?utm_source=mail&utm_campaign=${visitor.campaign}` : ''
      const page: PageVisit = {
        path: path + campaign,
        title: `${title} – Kittiwake Crossings`,
        referrer: isEntry && random.chance(visitor.searches) ? 'https://search.example' : undefined,
        stay: Math.round(random.between(4000, 40_000)),
        events: [],
      }
      for (const each of meet(path)) {
        met.set(each.salt, each)
        isLost ||= random.chance(lostShare(each, visitor.browser))
        const { experiment, variant, period } = each
        page.events.push({ type: 'exposure', after: 0, experiment, variant, period })
      }
      if (random.chance(ERRORS))
        page.events.push({ type: 'error', after: 900, name: 'Uncaught TypeError: tide is undefined' })
      pages.push(page)
      return page
    },
    click(page, { element, label, boxes }, after = page.stay - 50) {
      const [x, y, boxWidth, boxHeight] = boxes?.[visitor.device] ?? [20, 80, width - 40, 600]
      const within = [Math.round(random.between(50, 950)), Math.round(random.between(100, 900))] as const
      const at = [Math.round(x + (boxWidth * within[0]) / 1000), Math.round(y + (boxHeight * within[1]) / 1000)]
      page.events.push({ type: 'click', after, element, label, at, within: [...within] })
    },
  }
}

function lostShare({ salt, variant }: Met, browser: string): number {
  const lost = LOST_REPORTS[salt]
  return lost?.browser === browser ? (lost.shares[variant] ?? 0) : 0
}

/** A robot opens one page after the other, faster than anybody reads. */
export function robotSession(
  random: Random,
  meet: (path: string) => Met[],
  paths: readonly string[],
  titles: Readonly<Record<string, string>>,
): PageVisit[] {
  const opened = paths.filter(() => random.chance(0.6))
  return opened.map((path) => ({
    path,
    title: `${titles[path]} – Kittiwake Crossings`,
    stay: 300,
    events: meet(path).map(({ experiment, variant, period }) => ({
      type: 'exposure',
      after: 0,
      experiment,
      variant,
      period,
    })),
  }))
}

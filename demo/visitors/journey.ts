import type { CollectedEvent } from '../../shared/collect'
import { CROSSINGS, fare } from '../site/crossings'
import { LOST_REPORTS, TRUE_EFFECTS, type Step } from './effects'
import { ELEMENTS, type ElementName } from './elements'
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
}

const ENTRY = {
  '/': 45,
  '/crossings/torrin': 14,
  '/crossings/ennisay': 11,
  '/crossings/little-skell': 6,
  '/timetable': 13,
  '/passes': 6,
  '/help': 5,
}
const TITLES: Record<string, string> = {
  '/': 'Ferries from Harrow Quay',
  '/timetable': 'Timetable',
  '/timetable-by-day': 'Timetable by day',
  '/passes': 'Season passes',
  '/passes/island-hopper': 'Island Hopper',
  '/help': 'Help',
  '/help/dogs': 'Dogs on board',
  '/book': 'Book',
  '/book/travelers': 'Travelers',
  '/book/pay': 'Pay',
  '/book/done': 'Booked',
}
const MOST_PAGES = 12
const ERRORS = 0.006

/**
 * One session of a visitor, page by page.
 *
 * @param meet - the experiments that a visitor takes part in on a path
 */
export function simulateSession(random: Random, visitor: Visitor, meet: (path: string) => Met[]): PageVisit[] {
  if (visitor.isRobot) return robotSession(random, meet)
  const met = new Map<string, Met>()
  const pages: PageVisit[] = []
  const isPhone = visitor.device === 'phone'
  const [width] = visitor.screen
  let crossing = CROSSINGS[Math.floor(random.uniform() * CROSSINGS.length)]!
  let isLost = false

  const factor = (step: Step) => {
    let product = 1
    for (const { salt, variant } of met.values()) {
      if (TRUE_EFFECTS[salt]?.step === step) product *= TRUE_EFFECTS[salt].factors[variant] ?? 1
    }
    return product
  }
  const goes = (probability: number, step?: Step) =>
    random.chance(Math.min(0.97, probability * visitor.eagerness * (step ? factor(step) : 1)))

  let next: string | null = random.pick(ENTRY)
  while (next && pages.length < MOST_PAGES) {
    const page = openPage(next)
    pages.push(page)
    if (random.chance(0.18)) clickAround(page)
    if (random.chance(ERRORS))
      page.events.push({ type: 'error', after: 900, name: 'Uncaught TypeError: tide is undefined' })
    next = leave(page)
  }
  return isLost ? [] : pages

  function openPage(path: string): PageVisit {
    const bare = path.split('?')[0]!
    const isEntry = pages.length === 0
    const campaign = isEntry && visitor.campaign ? `?utm_source=mail&utm_campaign=${visitor.campaign}` : ''
    const page: PageVisit = {
      path: path + campaign,
      title: `${TITLES[bare] ?? `Ferry to ${crossing.island}`} – Kittiwake Crossings`,
      referrer: isEntry && random.chance(0.6) ? 'https://search.example' : undefined,
      stay: Math.round(random.between(4000, 40_000)),
      events: [],
    }
    for (const each of meet(bare)) {
      met.set(each.salt, each)
      isLost ||= random.chance(LOST_REPORTS[each.salt]?.[each.variant] ?? 0)
      page.events.push({ type: 'exposure', after: 0, experiment: each.experiment, variant: each.variant })
    }
    return page
  }

  function click(page: PageVisit, name: ElementName, after = page.stay - 50): void {
    const { element, ...more } = ELEMENTS[name] as { element: string; label?: string }
    const at = [Math.round(random.between(20, width - 20)), Math.round(random.between(80, 1400))]
    const within = [Math.round(random.between(0, 1000)), Math.round(random.between(0, 1000))]
    page.events.push({ type: 'click', after, element, label: more.label, at, within })
  }

  /** Where people click although nothing is there. */
  function clickAround(page: PageVisit): void {
    const path = page.path.split('?')[0]!
    if (path === '/') click(page, 'headline', Math.round(page.stay * 0.6))
    else if (path.startsWith('/crossings/')) click(page, 'scene', Math.round(page.stay * 0.6))
  }

  function through(page: PageVisit, name: ElementName, to: string): string {
    click(page, name)
    return to
  }

  function leave(page: PageVisit): string | null {
    const from = page.path.split('?')[0]!
    if (from === '/') return leaveHome(page)
    if (from.startsWith('/crossings/')) {
      crossing = CROSSINGS.find(({ slug }) => from.endsWith(slug))!
      if (goes(isPhone ? 0.15 : 0.21, 'crossing to book')) return through(page, 'bookCrossing', '/book')
      return random.pick({ '/': 16, '/timetable': 14, '/help': 3, '': 52 }) || null
    }
    if (from === '/timetable')
      return (
        random.pick({ '/': 42, '/timetable-by-day': 10, '/crossings/torrin': 8, '/crossings/ennisay': 6, '': 34 }) ||
        null
      )
    if (from === '/timetable-by-day') return random.pick({ '/': 22, '/book': 9, '': 60 }) || null
    if (from === '/passes') {
      if (goes(0.31, 'passes to hopper')) return through(page, 'chooseHopper', '/passes/island-hopper')
      return random.pick({ '/': 30, '': 70 }) || null
    }
    if (from === '/passes/island-hopper') return random.chance(0.16) ? through(page, 'buyPass', '/book') : null
    if (from === '/help') return random.pick({ '/': 30, '/help/dogs': 3, '': 67 }) || null
    if (from === '/book') {
      const probability = Math.min(0.97, (isPhone ? 0.5 : 0.74) * factor('book to travelers'))
      return submits(page, 'booking', 'toTravelers', probability) ? '/book/travelers' : null
    }
    if (from === '/book/travelers') return submits(page, 'travelers', 'toPay', 0.82) ? '/book/pay' : null
    if (from === '/book/pay' && submits(page, 'payment', 'pay', 0.89)) confirm()
    return null
  }

  function leaveHome(page: PageVisit): string | null {
    if (goes(isPhone ? 0.07 : 0.14, 'home to book')) {
      page.events.push({ type: 'submit', after: page.stay - 20, element: ELEMENTS.finder.element })
      return through(page, 'find', '/book')
    }
    if (random.chance(0.34)) {
      crossing = CROSSINGS[Number(random.pick({ 0: 40, 1: 38, 2: 22 }))]!
      return through(page, crossing.slug, `/crossings/${crossing.slug}`)
    }
    return random.pick({ '/timetable': 14, '/passes': 7, '/help': 3, '': 46 }) || null
  }

  function submits(page: PageVisit, form: ElementName, button: ElementName, probability: number): boolean {
    const isDone = random.chance(probability)
    if (!isDone) return false
    click(page, button)
    page.events.push({ type: 'submit', after: page.stay - 20, element: ELEMENTS[form].element })
    return true
  }

  /** The confirmation page; some open it a second time, which is no second order. */
  function confirm(): void {
    const adults = Number(random.pick({ 1: 22, 2: 52, 3: 14, 4: 12 }))
    const children = random.chance(0.3) ? Number(random.pick({ 1: 5, 2: 4, 3: 1 })) : 0
    const vehicleMeters = random.chance(isPhone ? 0.4 : 0.6) ? random.between(3.6, 7.2) : 0
    const amount = fare(crossing, { adults, children, vehicleMeters })
    const reference = `KC-${random.id(6).toUpperCase()}`
    for (let times = random.chance(0.06) ? 2 : 1; times > 0; times--) {
      pages.push({
        path: `/book/done?ref=${reference}`,
        title: `${TITLES['/book/done']} – Kittiwake Crossings`,
        stay: 6000,
        events: [{ type: 'amount', after: 20, name: '#order-total', amount, currency: 'EUR', reference }],
      })
    }
  }
}

/** A robot opens one page after the other, faster than anybody reads. */
function robotSession(random: Random, meet: (path: string) => Met[]): PageVisit[] {
  const paths = Object.keys(ENTRY).filter(() => random.chance(0.6))
  return paths.map((path) => ({
    path,
    title: `${TITLES[path] ?? 'Ferry'} – Kittiwake Crossings`,
    stay: 300,
    events: meet(path).map(({ experiment, variant }) => ({ type: 'exposure', after: 0, experiment, variant })),
  }))
}

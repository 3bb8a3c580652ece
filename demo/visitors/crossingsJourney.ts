import { CROSSINGS, fare } from '../site/crossings'
import { ELEMENTS, type ElementName } from './elements'
import { openSession, robotSession, type Journey, type PageVisit } from './journey'

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
  ...Object.fromEntries(CROSSINGS.map(({ slug, island }) => [`/crossings/${slug}`, `Ferry to ${island}`])),
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

/** A session on the site of the crossings. */
export const crossingsJourney: Journey = (random, visitor, meet) => {
  if (visitor.isRobot) return robotSession(random, meet, Object.keys(ENTRY), TITLES)
  const session = openSession(random, visitor, meet)
  const { pages, click, goes, factor } = session
  const isPhone = visitor.device === 'phone'
  let crossing = CROSSINGS[Math.floor(random.uniform() * CROSSINGS.length)]!

  let next: string | null = random.pick(ENTRY)
  while (next && pages.length < MOST_PAGES) {
    const page = session.openPage(next, TITLES[next]!)
    if (random.chance(0.18)) clickAround(page)
    next = leave(page)
  }
  return session.isLost() ? [] : pages

  /** Where people click although nothing is there. */
  function clickAround(page: PageVisit): void {
    const path = page.path.split('?')[0]!
    if (path === '/') click(page, ELEMENTS.headline, Math.round(page.stay * 0.6))
    else if (path.startsWith('/crossings/')) click(page, ELEMENTS.scene, Math.round(page.stay * 0.6))
  }

  function through(page: PageVisit, name: ElementName, to: string): string {
    click(page, ELEMENTS[name])
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
    click(page, ELEMENTS[button])
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

import { CROSSINGS, fare } from '../site/crossings'
import type { CollectedEvent } from '../../shared/collect'
import { LOST_REPORTS, TRUE_EFFECTS, type Step } from './effects'
import type { Random } from './random'

export type Device = 'phone' | 'desktop' | 'tablet'

/** Who a simulated visitor is. */
export interface Visitor {
  id: string
  device: Device
  browser: string
  country: string
  language: string
  campaign: string | null
  /** Factor on the probability to go on toward a booking, the same at every visit. */
  eagerness: number
}

/** What happens on one page; times in ms after the page was opened. */
export interface PageVisit {
  path: string
  stay: number
  events: (Omit<CollectedEvent, 'id' | 'at' | 'address'> & { after: number })[]
}

/** Which experiments a visitor meets on a page: the salt names the effect, the others go into the event. */
export interface Met {
  experiment: number
  salt: string
  variant: number
}

const SCREEN: Record<Device, readonly [number, number]> = {
  phone: [390, 844],
  desktop: [1440, 900],
  tablet: [820, 1180],
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
const MOST_PAGES = 12

export function drawVisitor(random: Random): Visitor {
  const device = random.pick<Device>({ phone: 58, desktop: 34, tablet: 8 })
  const country = random.pick({ IE: 46, GB: 24, DE: 12, FR: 8, NL: 6, US: 4 })
  return {
    id: random.id(22),
    device,
    browser:
      device === 'desktop'
        ? random.pick({ Chrome: 62, Firefox: 20, Safari: 18 })
        : random.pick({ Chrome: 55, Safari: 45 }),
    country,
    language: { IE: 'en-IE', GB: 'en-GB', DE: 'de-DE', FR: 'fr-FR', NL: 'nl-NL', US: 'en-US' }[country],
    campaign: random.chance(0.22) ? random.pick({ 'spring-sailings': 5, 'island-hopper': 3, newsletter: 2 }) : null,
    eagerness: Number(random.pick({ 0.4: 30, 1: 45, 1.72: 25 })),
  }
}

/**
 * One session of a visitor, page by page.
 *
 * @param meet - the experiments that a visitor takes part in on a path
 */
export function simulateSession(random: Random, visitor: Visitor, meet: (path: string) => Met[]): PageVisit[] {
  const met = new Map<string, Met>()
  const pages: PageVisit[] = []
  const isPhone = visitor.device === 'phone'
  let path: string | null = random.pick(ENTRY)
  let referrer = random.chance(0.6) ? 'https://search.example/' : ''
  let crossing = CROSSINGS[Math.floor(random.uniform() * CROSSINGS.length)]!
  let isLost = false

  const factor = (step: Step) => {
    let product = 1
    for (const { salt, variant } of met.values())
      if (TRUE_EFFECTS[salt]?.step === step) product *= TRUE_EFFECTS[salt].factors[variant] ?? 1
    return product
  }
  const goes = (probability: number, step?: Step) =>
    random.chance(Math.min(0.97, probability * visitor.eagerness * (step ? factor(step) : 1)))

  while (path && pages.length < MOST_PAGES) {
    const page: PageVisit = { path, stay: Math.round(random.between(4000, 40_000)), events: [] }
    const [width, height] = SCREEN[visitor.device]
    page.events.push({
      type: 'page',
      after: 0,
      properties: {
        referrer,
        language: visitor.language,
        country: visitor.country,
        device: visitor.device,
        browser: visitor.browser,
        campaign: visitor.campaign,
        width,
        height,
      },
    })
    for (const each of meet(path.split('?')[0]!)) {
      met.set(each.salt, each)
      isLost ||= random.chance(LOST_REPORTS[each.salt]?.[each.variant] ?? 0)
      page.events.push({ type: 'exposure', after: 0, experiment: each.experiment, variant: each.variant })
    }
    const onPage = path
    const click = (selector: string) =>
      page.events.push({
        type: 'click',
        after: page.stay - 50,
        selectors: [selector],
        properties: { x: Math.round(random.between(20, width - 20)), y: Math.round(random.between(80, 1400)) },
      })
    scroll(random, page, onPage)
    if (random.chance(0.18))
      page.events.push({
        type: 'click',
        after: Math.round(page.stay * 0.6),
        properties: {
          element: random.pick({ 'main h1': 3, '.scene': 5, td: 4 }),
          x: Math.round(random.between(20, width - 20)),
          y: Math.round(random.between(80, 900)),
          dead: true,
        },
      })
    pages.push(page)
    referrer = onPage
    path = leave(onPage.split('?')[0]!, click, page)
  }
  return isLost ? [] : pages

  function leave(from: string, click: (selector: string) => void, page: PageVisit): string | null {
    const through = (selector: string, to: string) => {
      click(selector)
      return to
    }
    if (from === '/') {
      if (goes(isPhone ? 0.07 : 0.14, 'home to book')) {
        page.events.push({ type: 'submit', after: page.stay - 20, selectors: ['#finder'] })
        return through('#find', '/book')
      }
      if (random.chance(0.34)) {
        crossing = CROSSINGS[Number(random.pick({ 0: 40, 1: 38, 2: 22 }))]!
        return through('#next-sailings a', `/crossings/${crossing.slug}`)
      }
      return random.pick({ '/timetable': 14, '/passes': 7, '/help': 3, '': 46 }) || null
    }
    if (from.startsWith('/crossings/')) {
      crossing = CROSSINGS.find(({ slug }) => from.endsWith(slug))!
      if (goes(isPhone ? 0.15 : 0.21, 'crossing to book')) return through('#book-crossing', '/book')
      return random.pick({ '/': 16, '/timetable': 14, '/help': 3, '': 52 }) || null
    }
    if (from === '/timetable')
      return (
        random.pick({ '/': 42, '/timetable-by-day': 10, '/crossings/torrin': 8, '/crossings/ennisay': 6, '': 34 }) ||
        null
      )
    if (from === '/timetable-by-day') return random.pick({ '/': 22, '/book': 9, '': 60 }) || null
    if (from === '/passes')
      return goes(0.31, 'passes to hopper')
        ? through('#choose-hopper', '/passes/island-hopper')
        : random.pick({ '/': 30, '': 70 }) || null
    if (from === '/passes/island-hopper') return random.chance(0.16) ? through('#buy-pass', '/book') : null
    if (from === '/help') return random.pick({ '/': 30, '/help/dogs': 3, '': 67 }) || null
    if (from === '/book') return fillBooking(page)
    if (from === '/book/travelers')
      return fillForm(page, '#travelers', ['name', 'email'], 0.82) ? through('#to-pay', '/book/pay') : null
    if (from === '/book/pay') return pay(page)
    return null
  }

  function fillBooking(page: PageVisit): string | null {
    const probability = (isPhone ? 0.5 : 0.74) * factor('book to travelers')
    const isDone = fillForm(page, '#booking', ['crossing', 'date', 'adults', 'length'], Math.min(0.97, probability))
    return isDone ? '/book/travelers' : null
  }

  function fillForm(page: PageVisit, selector: string, fields: string[], probability: number): boolean {
    const isDone = random.chance(probability)
    const reached = isDone ? fields.length : 1 + Math.floor(random.uniform() * fields.length)
    fields.slice(0, reached).forEach((field, index) => {
      const isLast = !isDone && index === reached - 1
      const milliseconds = Math.round(random.between(1500, 6000) * (field === 'length' && isPhone ? 3.2 : 1))
      page.events.push({
        type: 'field',
        after: 500 + index * 3000,
        selectors: [selector],
        name: field,
        properties: {
          milliseconds,
          left: isLast,
          corrections: field === 'length' ? Math.floor(random.between(0, 4)) : 0,
        },
      })
    })
    if (isDone) page.events.push({ type: 'submit', after: page.stay - 20, selectors: [selector] })
    return isDone
  }

  function pay(page: PageVisit): string | null {
    if (!fillForm(page, '#payment', ['card'], 0.89)) return null
    const adults = Number(random.pick({ 1: 22, 2: 52, 3: 14, 4: 12 }))
    const children = random.chance(0.3) ? Number(random.pick({ 1: 5, 2: 4, 3: 1 })) : 0
    const vehicleMeters = random.chance(isPhone ? 0.4 : 0.6) ? random.between(3.6, 7.2) : 0
    const amount = fare(crossing, { adults, children, vehicleMeters })
    const done = `/book/done?ref=KC-${random.id(6).toUpperCase()}`
    pages.push({
      path: done,
      stay: 6000,
      events: [
        {
          type: 'page',
          after: 0,
          properties: {
            referrer: '/book/pay',
            language: visitor.language,
            country: visitor.country,
            device: visitor.device,
            browser: visitor.browser,
            campaign: visitor.campaign,
          },
        },
        { type: 'amount', after: 20, selectors: ['#order-total'], amount, currency: 'EUR' },
      ],
    })
    return null
  }
}

/** How far down people come: most of them not to the fares of a crossing page. */
function scroll(random: Random, page: PageVisit, path: string): void {
  const typical = path.startsWith('/crossings/') ? 0.42 : path === '/' ? 0.55 : 0.7
  const depth = Math.min(1, Math.max(0.1, typical + (random.uniform() + random.uniform() - 1) * 0.5))
  page.events.push({
    type: 'scroll',
    after: Math.round(page.stay * 0.7),
    properties: { depth: Number(depth.toFixed(3)) },
  })
}

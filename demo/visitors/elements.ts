import { CROSSINGS } from '../site/crossings'

/** An element of the demo site as a browser reports a click on it. A test compares them with what a browser says. */
export interface DemoElement {
  path: string
  element: string
  label?: string
}

const MAIN = 'body>main:nth-child(2):nth-of-type(1)'
const crossing = (index: number) =>
  `${MAIN}>table#next-sailings:nth-child(5):nth-of-type(1)>tbody:nth-child(2):nth-of-type(1)>tr:nth-child(${index + 1}):nth-of-type(${index + 1})>td:nth-child(1):nth-of-type(1)>a:nth-child(1):nth-of-type(1)[href="/crossings/${CROSSINGS[index]!.slug}"]`
const BOOKING = `${MAIN}>form#booking.steps:nth-child(2):nth-of-type(1)`
const TRAVELERS = `${MAIN}>form#travelers.steps:nth-child(2):nth-of-type(1)`
const PAYMENT = `${MAIN}>form#payment.steps:nth-child(3):nth-of-type(1)`
const FINDER = `${MAIN}>form#finder.finder:nth-child(3):nth-of-type(1)`

/** Elements that simulated visitors click on or submit, by a name. */
export const ELEMENTS = {
  find: { path: '/', element: `${FINDER}>button#find:nth-child(4):nth-of-type(1)`, label: 'Find a crossing' },
  finder: { path: '/', element: FINDER },
  ennisay: { path: '/', element: crossing(0), label: 'Ennisay' },
  torrin: { path: '/', element: crossing(1), label: 'Torrin' },
  'little-skell': { path: '/', element: crossing(2), label: 'Little Skell' },
  promotion: {
    path: '/',
    element: `${MAIN}>section.promo:nth-child(6):nth-of-type(1)>a#promo-pass.button:nth-child(3):nth-of-type(1)[href="/passes/island-hopper"]`,
    label: 'See the Island Hopper',
  },
  headline: { path: '/', element: `${MAIN}>h1:nth-child(1):nth-of-type(1)` },
  bookCrossing: {
    path: '/crossings/torrin',
    element: `${MAIN}>p:nth-child(14):nth-of-type(5)>a#book-crossing.button:nth-child(1):nth-of-type(1)[href="/book"]`,
    label: 'Book this crossing',
  },
  scene: { path: '/crossings/torrin', element: `${MAIN}>svg.scene:nth-child(3):nth-of-type(1)[role="img"]` },
  chooseHopper: {
    path: '/passes',
    element: `${MAIN}>div.cards:nth-child(3):nth-of-type(1)>div.card:nth-child(1):nth-of-type(1)>a#choose-hopper.button:nth-child(4):nth-of-type(1)[href="/passes/island-hopper"]`,
    label: 'Choose this pass',
  },
  buyPass: {
    path: '/passes/island-hopper',
    element: `${MAIN}>p:nth-child(3):nth-of-type(2)>a#buy-pass.button:nth-child(1):nth-of-type(1)[href="/book"]`,
    label: 'Buy the pass',
  },
  booking: { path: '/book', element: BOOKING },
  toTravelers: { path: '/book', element: `${BOOKING}>button#to-travelers:nth-child(7):nth-of-type(1)`, label: 'Go on' },
  travelers: { path: '/book/travelers', element: TRAVELERS },
  toPay: {
    path: '/book/travelers',
    element: `${TRAVELERS}>button#to-pay:nth-child(9):nth-of-type(1)`,
    label: 'Go on to payment',
  },
  payment: { path: '/book/pay', element: PAYMENT },
  pay: { path: '/book/pay', element: `${PAYMENT}>button#pay:nth-child(10):nth-of-type(1)`, label: 'Pay now' },
} as const satisfies Record<string, DemoElement>

const KIOSK = 'body>div#kiosk:nth-child(1):nth-of-type(1)>main:nth-child(2):nth-of-type(1)'
const island = (index: number) => {
  const { slug, island, sailings, adult } = CROSSINGS[index]!
  return {
    path: '/',
    element: `${KIOSK}>a#to-${slug}.island:nth-child(${index + 2}):nth-of-type(${index + 1})[href="/to/${slug}"]>strong:nth-child(1):nth-of-type(1)`,
    label: `${island} ${sailings.join(' · ')} from € ${adult.toFixed(2)}`,
  }
}
const more = (index: number) =>
  `${KIOSK}>div.count:nth-child(${index + 2}):nth-of-type(${index + 1})[role="group"]>button:nth-child(4):nth-of-type(2)[type="button"]`

/** The same of the ticket kiosk. */
export const KIOSK_ELEMENTS = {
  ennisay: island(0),
  torrin: island(1),
  'little-skell': island(2),
  moreAdults: { path: '/to/torrin', element: more(0), label: 'More Adults' },
  moreChildren: { path: '/to/torrin', element: more(1), label: 'More Children' },
  toPay: {
    path: '/to/torrin',
    element: `${KIOSK}>p:nth-child(5):nth-of-type(2)>a#to-pay.button:nth-child(1):nth-of-type(1)[href="/pay"]`,
    label: 'Go on',
  },
  otherIsland: {
    path: '/to/torrin',
    element: `${KIOSK}>p:nth-child(6):nth-of-type(3)>a#other-island:nth-child(1):nth-of-type(1)[href="/"]`,
    label: 'Another island',
  },
  pay: {
    path: '/pay',
    element: `${KIOSK}>p:nth-child(3):nth-of-type(2)>button#pay:nth-child(1):nth-of-type(1)[type="button"]`,
    label: 'Pay',
  },
  anotherTicket: {
    path: '/ticket/KT-1',
    element: `${KIOSK}>p:nth-child(3):nth-of-type(2)>a#another-ticket.button:nth-child(1):nth-of-type(1)[href="/"]`,
    label: 'Buy another ticket',
  },
} as const satisfies Record<string, DemoElement>

export type ElementName = keyof typeof ELEMENTS

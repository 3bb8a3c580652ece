import { CROSSINGS } from '../site/crossings'
import { BOXES, type Box, type ByDevice } from './places'

/** An element of the demo site as a browser reports a click on it. A test compares them with what a browser says. */
export interface DemoElement {
  path: string
  element: string
  label?: string
  /** Where it stands; left out where no heatmap shows it. */
  boxes?: ByDevice<Box>
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
  find: {
    path: '/',
    element: `${FINDER}>button#find:nth-child(4):nth-of-type(1)`,
    label: 'Find a crossing',
    boxes: BOXES.find,
  },
  finder: { path: '/', element: FINDER },
  ennisay: { path: '/', element: crossing(0), label: 'Ennisay', boxes: BOXES.ennisay },
  torrin: { path: '/', element: crossing(1), label: 'Torrin', boxes: BOXES.torrin },
  'little-skell': { path: '/', element: crossing(2), label: 'Little Skell', boxes: BOXES['little-skell'] },
  promotion: {
    path: '/',
    element: `${MAIN}>section.promo:nth-child(6):nth-of-type(1)>a#promo-pass.button:nth-child(3):nth-of-type(1)[href="/passes/island-hopper"]`,
    label: 'See the Island Hopper',
    boxes: BOXES.promotion,
  },
  headline: { path: '/', element: `${MAIN}>h1:nth-child(1):nth-of-type(1)`, boxes: BOXES.headline },
  bookCrossing: {
    path: '/crossings/torrin',
    element: `${MAIN}>p:nth-child(14):nth-of-type(5)>a#book-crossing.button:nth-child(1):nth-of-type(1)[href="/book"]`,
    label: 'Book this crossing',
    boxes: BOXES.bookCrossing,
  },
  scene: {
    path: '/crossings/torrin',
    element: `${MAIN}>svg.scene:nth-child(3):nth-of-type(1)[role="img"]`,
    boxes: BOXES.scene,
  },
  chooseHopper: {
    path: '/passes',
    element: `${MAIN}>div.cards:nth-child(3):nth-of-type(1)>div.card:nth-child(1):nth-of-type(1)>a#choose-hopper.button:nth-child(4):nth-of-type(1)[href="/passes/island-hopper"]`,
    label: 'Choose this pass',
    boxes: BOXES.chooseHopper,
  },
  buyPass: {
    path: '/passes/island-hopper',
    element: `${MAIN}>p:nth-child(3):nth-of-type(2)>a#buy-pass.button:nth-child(1):nth-of-type(1)[href="/book"]`,
    label: 'Buy the pass',
    boxes: BOXES.buyPass,
  },
  booking: { path: '/book', element: BOOKING },
  toTravelers: {
    path: '/book',
    element: `${BOOKING}>button#to-travelers:nth-child(7):nth-of-type(1)`,
    label: 'Go on',
    boxes: BOXES.toTravelers,
  },
  travelers: { path: '/book/travelers', element: TRAVELERS },
  toPay: {
    path: '/book/travelers',
    element: `${TRAVELERS}>button#to-pay:nth-child(9):nth-of-type(1)`,
    label: 'Go on to payment',
    boxes: BOXES.toPay,
  },
  payment: { path: '/book/pay', element: PAYMENT },
  pay: {
    path: '/book/pay',
    element: `${PAYMENT}>button#pay:nth-child(10):nth-of-type(1)`,
    label: 'Pay now',
    boxes: BOXES.pay,
  },
} as const satisfies Record<string, DemoElement>

/** A field of a form of the demo site: how much of the visitors' time it takes, and where phones are worse off. */
interface DemoField {
  name: string
  label: string
  kind: string
  element: string
  /** Seconds that it takes, about. */
  weight: number
  onPhone?: number
  /** How many pass over it. */
  isSkipped?: number
}
export interface DemoForm {
  path: string
  name: string
  element: string
  /** How many of those who do not send it have begun. */
  isBegun: number
  fields: readonly DemoField[]
}

const field = (
  form: string,
  [child, ofType]: readonly [number, number],
  name: string,
  label: string,
  kind: string,
  rest: Pick<DemoField, 'weight' | 'onPhone' | 'isSkipped'>,
): DemoField => {
  const tag = kind === 'select-one' ? 'select' : 'input'
  const type = kind === 'select-one' || kind === 'text' ? '' : `[type="${kind}"]`
  const element = `${form}>label:nth-child(${child}):nth-of-type(${ofType})>${tag}:nth-child(1):nth-of-type(1)[name="${name}"]${type}`
  return { name, label, kind, element, ...rest }
}
const NEWSLETTER = `${MAIN}>form#newsletter.finder:nth-child(8):nth-of-type(2)`

/** The forms of the demo site as a browser tells them. A test compares them with what a browser says. */
export const FORMS: readonly DemoForm[] = [
  {
    path: '/',
    name: 'finder',
    element: FINDER,
    isBegun: 0.09,
    fields: [
      field(FINDER, [1, 1], 'crossing', 'Crossing', 'select-one', { weight: 2, isSkipped: 0.3 }),
      field(FINDER, [2, 2], 'date', 'Day', 'date', { weight: 5, isSkipped: 0.2 }),
      field(FINDER, [3, 3], 'adults', 'Travelers', 'number', { weight: 2, isSkipped: 0.4 }),
    ],
  },
  {
    path: '/',
    name: 'newsletter',
    element: NEWSLETTER,
    isBegun: 0.01,
    fields: [field(NEWSLETTER, [1, 1], 'email', 'E-mail address', 'email', { weight: 6 })],
  },
  {
    path: '/book',
    name: 'booking',
    element: BOOKING,
    isBegun: 0.82,
    fields: [
      field(BOOKING, [1, 1], 'crossing', 'Crossing', 'select-one', { weight: 2, isSkipped: 0.5 }),
      field(BOOKING, [2, 2], 'date', 'Day', 'date', { weight: 5 }),
      field(BOOKING, [3, 3], 'adults', 'Adults', 'number', { weight: 2, isSkipped: 0.3 }),
      field(BOOKING, [4, 4], 'children', 'Children', 'number', { weight: 1.5, isSkipped: 0.5 }),
      field(BOOKING, [5, 5], 'vehicle', 'Vehicle', 'select-one', { weight: 2, isSkipped: 0.3 }),
      field(BOOKING, [6, 6], 'length', 'Length of the vehicle in meters, with towbar and…', 'text', {
        weight: 4,
        onPhone: 16,
      }),
    ],
  },
  {
    path: '/book/travelers',
    name: 'travelers',
    element: TRAVELERS,
    isBegun: 0.6,
    fields: [
      field(TRAVELERS, [7, 1], 'name', 'Name', 'text', { weight: 5 }),
      field(TRAVELERS, [8, 2], 'email', 'E-mail address', 'email', { weight: 6 }),
    ],
  },
  {
    path: '/book/pay',
    name: 'payment',
    element: PAYMENT,
    isBegun: 0.5,
    fields: [field(PAYMENT, [9, 1], 'card', 'Card number (made up: any digits)', 'text', { weight: 9 })],
  },
]

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

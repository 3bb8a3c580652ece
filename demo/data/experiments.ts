import type { Edit } from '../../core/edits/content'
import type { MetricSource } from '../../core/measurement/metric'
import type { PageMatch } from '../../core/targeting/pageRule'
import type { Purpose, SheetMetric } from '../../core/sheet/content'
import type { SheetParts } from '../../server/services/experiments/changeSheet'
import { DEFAULT_PLAN, SERVING_PLAN } from '../../core/sheet/defaultPlan'

/** One experiment of the demo: what is on its sheet, and when it ran in days before the first start. */
export interface DemoExperiment {
  name: string
  /** A test, where left out. */
  purpose?: Purpose
  salt: string
  startedDaysAgo: number | null
  endedDaysAgo: number | null
  /** Of an ended one: position of the variant that is kept, null for none, and why. */
  decision?: { position: number | null; reason: string }
  /** What was kept is served, from so many days ago and to so many of 10,000 buckets. */
  rolledOut?: { daysAgo: number; share: number }
  content: SheetParts
  /** What people say of a draft, and who is asked to approve of it. */
  review?: {
    comments: { name: string; words: string }[]
    approvals: { name: string; askedBy: string; answer?: 'approved' | 'changes'; words?: string }[]
  }
}

const control = { name: 'Control', weight: 1, edits: [] }
const metric = (
  name: string,
  kind: SheetMetric['kind'],
  source: MetricSource,
  more: Partial<SheetMetric> = {},
): Omit<SheetMetric, 'id'> => ({
  name,
  kind,
  source,
  denominator: null,
  direction: 'up',
  role: 'primary',
  limit: null,
  ...more,
})
const visits = (match: PageMatch, value: string): MetricSource => ({ type: 'visit', page: { match, value } })
const ORDER_TOTAL: MetricSource = {
  type: 'pageAmount',
  page: { match: 'exact', value: '/book/done' },
  selector: '#order-total',
  reference: { parameter: 'ref' },
}
const BOOKED = visits('exact', '/book/done')
const bookings = metric('Bookings', 'conversion', BOOKED)
const bookedAmount = metric('Booked amount', 'mean', ORDER_TOTAL, { role: 'secondary' })
const amountPerBooking = metric('Amount per booking', 'ratio', ORDER_TOTAL, { role: 'secondary', denominator: BOOKED })
const helpOpened = metric('Help opened', 'conversion', visits('begins', '/help'), {
  role: 'guardrail',
  direction: 'down',
  limit: 0.15,
})
const text = (selector: string, original: string, value: string) => ({
  id: `demo-${`${selector}-${value}`.replace(/\W+/g, '-').slice(0, 30)}`,
  kind: 'text' as const,
  selector,
  original,
  value,
})

const FARES_TABLE = { tag: 'table', text: '', before: 'Fares', after: 'Book this crossing' }
const LEAD = { tag: 'p', text: '', before: '', after: '' }

/** What pointing at the page of a crossing made. */
const FARES_ABOVE: Edit[] = [
  {
    id: 'demo-fares-table',
    kind: 'move',
    selector: 'main > table',
    to: '.lead',
    place: 'after',
    clues: FARES_TABLE,
    toClues: LEAD,
    title: 'Fares below the lead',
  },
  {
    id: 'demo-fares-heading',
    kind: 'move',
    selector: '#fares',
    to: '.lead',
    place: 'after',
    clues: { tag: 'h2', text: 'Fares', before: '', after: '' },
    toClues: LEAD,
  },
  {
    id: 'demo-fares-note',
    kind: 'insert',
    selector: 'main > table',
    place: 'after',
    clues: FARES_TABLE,
    value:
      '<p class="note">Return fares, on foot or with a bicycle. <a href="/help/dogs">Dogs</a> travel for € 3.00.</p>',
  },
  {
    id: 'demo-fares-size',
    kind: 'style',
    selector: '#fares',
    clues: { tag: 'h2', text: 'Fares', before: '', after: '' },
    value: { 'margin-top': '8px' },
    original: { 'margin-top': '32px' },
  },
  {
    id: 'demo-button-words',
    kind: 'text',
    selector: '#book-crossing',
    clues: { tag: 'a', text: 'Book this crossing', before: '', after: '' },
    original: 'Book this crossing',
    value: 'Choose your day',
  },
]

const PROMOTION = 'The Island Hopper pass takes you across as often as you like from May to September.'
const level = (id: string, name: string, ...edits: Edit[]) => ({ id: `demo-${id}`, name, edits })
const factor = (id: string, name: string, ...levels: ReturnType<typeof level>[]) => ({
  id: `demo-${id}`,
  name,
  levels: [level(`${id}-original`, 'As it is'), ...levels],
})

/** The drafts come last, so that they stand on top of the list. */
export const CROSSINGS_EXPERIMENTS: readonly DemoExperiment[] = [
  {
    name: 'Timetable opens with the next boats',
    salt: 'kc-next-boats',
    startedDaysAgo: 82,
    endedDaysAgo: 61,
    decision: {
      position: 0,
      reason: 'No difference in three weeks. The question of which crossing comes first stays.',
    },
    content: {
      hypothesis:
        'Because the timetable sends many back to the start, we expect that today’s next boats on top of it will bring more bookings.',
      pageRules: [{ match: 'exact', value: '/timetable' }],
      variants: [control, { name: 'Next boats', weight: 1, edits: [text('h1', 'Timetable', 'The next boats today')] }],
      metrics: [bookings],
      plan: {
        ...DEFAULT_PLAN,
        rule: 'sequential',
        baseline: 0.05,
        smallestLift: 0.15,
        plannedVisitors: 9000,
        longestWeeks: 3,
      },
    },
  },
  {
    name: 'Crossing pages begin with the fare',
    salt: 'kc-fares-first',
    startedDaysAgo: 80,
    endedDaysAgo: 59,
    decision: { position: 1, reason: 'A little better, and nobody asked for the fare in chat any more.' },
    rolledOut: { daysAgo: 58, share: 10_000 },
    content: {
      hypothesis:
        'Because fares lie below where most people scroll, we expect that a heading which names the lowest fare will bring more bookings.',
      pageRules: [{ match: 'begins', value: '/crossings/' }],
      variants: [control, { name: 'Fare in the heading', weight: 1, edits: [text('h2', 'Sailing times', 'From € 7')] }],
      metrics: [bookings],
      plan: {
        ...DEFAULT_PLAN,
        rule: 'sequential',
        baseline: 0.09,
        smallestLift: 0.08,
        plannedVisitors: 12_000,
        longestWeeks: 3,
      },
    },
  },
  {
    name: 'Headline names the islands',
    salt: 'kc-island-headline',
    startedDaysAgo: 58,
    endedDaysAgo: 30,
    decision: {
      position: 1,
      reason: 'The four weeks were up. It looks better, costs nothing to keep, and the next test builds on it.',
    },
    content: {
      hypothesis:
        'Because many visitors leave the start page without searching, we expect that a headline with the islands’ names will bring more bookings, measured by confirmed bookings.',
      pageRules: [{ match: 'exact', value: '/' }],
      variants: [
        control,
        {
          name: 'Names the islands',
          weight: 1,
          edits: [text('h1', 'Three islands, one small harbor', 'Sail to Ennisay, Torrin or Little Skell')],
        },
      ],
      metrics: [bookings, bookedAmount],
      plan: {
        ...DEFAULT_PLAN,
        rule: 'sequential',
        baseline: 0.06,
        smallestLift: 0.05,
        plannedVisitors: 15_000,
        longestWeeks: 4,
      },
    },
  },
  {
    name: 'Pass button says what to do',
    salt: 'kc-pass-wording',
    startedDaysAgo: 57,
    endedDaysAgo: 15,
    decision: { position: 0, reason: 'More clicks perhaps, but no more passes. We keep the old words.' },
    content: {
      hypothesis:
        'Because few visitors open the Island Hopper page, we expect that a button which says what comes next will be clicked more often.',
      pageRules: [{ match: 'exact', value: '/passes' }],
      variants: [
        control,
        {
          name: 'See what is in it',
          weight: 1,
          edits: [text('#choose-hopper', 'Choose this pass', 'See what is in it')],
        },
      ],
      metrics: [
        metric('Pass page opened', 'conversion', { type: 'click', selector: '#choose-hopper' }),
        metric(
          'Passes per pass page',
          'ratio',
          { type: 'click', selector: '#buy-pass' },
          { role: 'secondary', denominator: visits('exact', '/passes/island-hopper') },
        ),
      ],
      plan: { ...DEFAULT_PLAN, rule: 'sequential', baseline: 0.3, smallestLift: 0.2, plannedVisitors: 5500 },
    },
  },
  {
    name: 'Booking says it takes three steps',
    salt: 'kc-three-steps',
    startedDaysAgo: 26,
    endedDaysAgo: null,
    content: {
      hypothesis:
        'Because visitors leave the booking on its first page, we expect that naming the number of steps will keep more of them.',
      pageRules: [{ match: 'exact', value: '/book' }],
      variants: [
        control,
        { name: 'Three steps', weight: 1, edits: [text('h1', 'Book a crossing', 'Book a crossing in three steps')] },
      ],
      metrics: [bookings],
      plan: { ...DEFAULT_PLAN, baseline: 0.35, smallestLift: 0.05, plannedVisitors: 7000 },
    },
  },
  {
    name: 'Book button on crossing pages',
    salt: 'kc-book-button',
    startedDaysAgo: 33,
    endedDaysAgo: null,
    content: {
      hypothesis:
        'Because fares lie below where most people scroll, we expect that a button which names the price will bring more bookings from crossing pages.',
      pageRules: [{ match: 'begins', value: '/crossings/' }],
      variants: [
        control,
        { name: 'From € 7', weight: 1, edits: [text('#book-crossing', 'Book this crossing', 'Book from € 7')] },
        {
          name: 'Check the fare',
          weight: 1,
          edits: [text('#book-crossing', 'Book this crossing', 'Check the fare for your party')],
        },
      ],
      metrics: [
        bookings,
        bookedAmount,
        metric(
          'Book clicks per crossing page',
          'ratio',
          { type: 'click', selector: '#book-crossing' },
          { role: 'secondary', denominator: visits('begins', '/crossings/') },
        ),
        helpOpened,
      ],
      plan: { ...DEFAULT_PLAN, baseline: 0.09, smallestLift: 0.05, plannedVisitors: 23_000 },
    },
  },
  {
    name: 'First booking step says what is next',
    salt: 'kc-next-step',
    startedDaysAgo: 19,
    endedDaysAgo: null,
    content: {
      hypothesis:
        'Because visitors leave the booking on its first page, we expect that a button which says what comes next will raise what is booked per visitor.',
      pageRules: [{ match: 'exact', value: '/book' }],
      variants: [
        control,
        { name: 'Names and mail', weight: 1, edits: [text('#to-travelers', 'Go on', 'Go on to names and mail')] },
      ],
      metrics: [
        { ...bookedAmount, role: 'primary', windowDays: 7 },
        { ...bookings, role: 'secondary' },
        amountPerBooking,
      ],
      plan: {
        ...DEFAULT_PLAN,
        adjustedBy: 'past',
        mean: 20,
        deviation: 36,
        smallestLift: 0.05,
        plannedVisitors: 9000,
      },
    },
  },
  {
    name: 'Finder button says where to',
    salt: 'kc-finder-button',
    startedDaysAgo: 2,
    endedDaysAgo: null,
    content: {
      hypothesis:
        'Because the finder’s button is missed on phones, we expect that a button with the word ferry will be used more often.',
      pageRules: [{ match: 'exact', value: '/' }],
      share: 5000,
      variants: [
        control,
        { name: 'Find my ferry', weight: 1, edits: [text('#find', 'Find a crossing', 'Find my ferry')] },
      ],
      metrics: [metric('Finder used', 'conversion', { type: 'submit', selector: '#finder' })],
      plan: { ...DEFAULT_PLAN, baseline: 0.1, smallestLift: 0.1, plannedVisitors: 21_000 },
    },
  },
  {
    name: 'Season passes: heading and button',
    salt: 'kc-pass-factors',
    startedDaysAgo: 14,
    endedDaysAgo: null,
    content: {
      hypothesis:
        'Because other words on the button alone did little, we expect that a heading which says what a pass is good for and a button with the price will open the pass more often, each by itself or both together.',
      pageRules: [{ match: 'exact', value: '/passes' }],
      factors: [
        factor(
          'pass-heading',
          'Heading',
          level(
            'pass-heading-often',
            'As often as you like',
            text('h1', 'Season passes', 'Cross as often as you like'),
          ),
        ),
        factor(
          'pass-button',
          'Button',
          level(
            'pass-button-price',
            'With the price',
            text('#choose-hopper', 'Choose this pass', 'All summer for € 89'),
          ),
        ),
      ],
      metrics: [
        metric('Pass page opened', 'conversion', { type: 'click', selector: '#choose-hopper' }),
        metric(
          'Passes per pass page',
          'ratio',
          { type: 'click', selector: '#buy-pass' },
          { role: 'secondary', denominator: visits('exact', '/passes/island-hopper') },
        ),
      ],
      plan: { ...DEFAULT_PLAN, baseline: 0.3, smallestLift: 0.2, plannedVisitors: 9000 },
    },
  },
  {
    name: 'Start page: headline, button and promotion',
    salt: 'kc-start-factors',
    startedDaysAgo: null,
    endedDaysAgo: null,
    content: {
      hypothesis:
        'Because the start page asks for three things at once, we expect that some wording of headline, button and promotion brings more bookings than the present one, and want to know which of the three does it.',
      pageRules: [{ match: 'exact', value: '/' }],
      factors: [
        factor(
          'start-headline',
          'Headline',
          level(
            'start-headline-islands',
            'Names the islands',
            text('h1', 'Three islands, one small harbor', 'Sail to Ennisay, Torrin or Little Skell'),
          ),
          level('start-headline-today', 'Today', text('h1', 'Three islands, one small harbor', 'On an island by noon')),
        ),
        factor(
          'start-button',
          'Finder button',
          level('start-button-ferry', 'Find my ferry', text('#find', 'Find a crossing', 'Find my ferry')),
        ),
        factor(
          'start-promotion',
          'Promotion',
          level(
            'start-promotion-saving',
            'Names the saving',
            text(
              '.promo > p',
              PROMOTION,
              'Six crossings pay for the pass: sail as often as you like, May to September.',
            ),
          ),
        ),
      ],
      metrics: [metric('Booking begun', 'conversion', visits('begins', '/book'))],
    },
  },
  {
    name: 'Timetable by day instead of by island',
    salt: 'kc-by-day',
    startedDaysAgo: null,
    endedDaysAgo: null,
    content: {
      hypothesis:
        'Because four in ten go from the timetable back to the start, we expect that a timetable by day will send more of them to the booking.',
      pageRules: [{ match: 'exact', value: '/timetable' }],
      variants: [
        control,
        { name: 'By day', weight: 1, edits: [{ id: 'demo-by-day', kind: 'redirect', value: '/timetable-by-day' }] },
      ],
      metrics: [metric('Booking begun', 'conversion', visits('begins', '/book'))],
    },
  },
  {
    name: 'Fares stand above the pictures',
    salt: 'kc-fares-above',
    startedDaysAgo: null,
    endedDaysAgo: null,
    content: {
      hypothesis:
        'Because six in ten never scroll as far as the fares, we expect that fares below the lead will send more visitors to the booking.',
      pageRules: [{ match: 'begins', value: '/crossings/' }],
      variants: [control, { name: 'Fares above', weight: 1, edits: FARES_ABOVE }],
      metrics: [metric('Booking begun', 'conversion', visits('begins', '/book'))],
    },
    review: {
      comments: [
        {
          name: 'Tobin Hale',
          words: 'On the phone the table now comes before the first picture. That is what we wanted.',
        },
        { name: 'Isla Venn', words: '@Tobin Hale is the note about dogs part of the idea, or an extra?' },
      ],
      approvals: [
        { name: 'Isla Venn', askedBy: 'Tobin Hale', answer: 'approved', words: 'Fine by me. Harbor office is told.' },
        { name: 'Mara Quill', askedBy: 'Tobin Hale' },
      ],
    },
  },
  {
    name: 'Pass promotion names the saving',
    salt: 'kc-pass-saving',
    startedDaysAgo: null,
    endedDaysAgo: null,
    content: {
      hypothesis:
        'Because the promotion says nothing about money, we expect that naming the saving will send more visitors to the pass.',
      pageRules: [{ match: 'exact', value: '/' }],
      variants: [control, { name: 'Names the saving', weight: 1, edits: [] }],
    },
  },
  {
    name: 'Winter fares until Sunday',
    salt: 'kc-winter-fares',
    startedDaysAgo: 9,
    endedDaysAgo: null,
    content: {
      hypothesis:
        'Because the winter fares end on Sunday, we expect that a timetable which begins with them will bring more bookings. There is no time to wait for the answer.',
      pageRules: [{ match: 'exact', value: '/timetable' }],
      variants: [
        control,
        { name: 'Until Sunday', weight: 1, edits: [text('h1', 'Timetable', 'Winter fares until Sunday')] },
        { name: 'From € 7', weight: 1, edits: [text('h1', 'Timetable', 'All crossings from € 7')] },
      ],
      metrics: [bookings],
      plan: {
        ...DEFAULT_PLAN,
        rule: 'sequential',
        split: 'moving',
        baseline: 0.05,
        smallestLift: 0.15,
        plannedVisitors: 6000,
        leastWeeks: 1,
        longestWeeks: 3,
      },
    },
  },
  {
    name: 'Visitors from Great Britain read that pounds are fine',
    purpose: 'serve',
    salt: 'kc-pounds-note',
    startedDaysAgo: 45,
    endedDaysAgo: null,
    content: {
      hypothesis:
        'Because many from Great Britain ask whether they can pay in pounds, we expect that a line about it will lead more of them into the booking.',
      pageRules: [{ match: 'begins', value: '/crossings/' }],
      audience: { join: 'all', of: [{ fact: 'country', is: 'oneOf', texts: ['GB'] }] },
      variants: [
        { name: 'Held back', weight: 2000, edits: [] },
        {
          name: 'Pounds are fine',
          weight: 8000,
          edits: [
            {
              id: 'demo-pounds-note',
              kind: 'insert',
              selector: '#headline',
              place: 'after',
              clues: { tag: 'h1', text: 'The ferry to', before: '', after: '' },
              value: '<p class="note">Pay in pounds or in euro, at the rate of the day.</p>',
            },
          ],
        },
      ],
      metrics: [metric('Booking begun', 'conversion', visits('begins', '/book')), helpOpened],
      plan: { ...SERVING_PLAN, baseline: 0.3, plannedVisitors: 8000 },
    },
  },
  {
    name: 'Page on dogs says what a dog costs',
    purpose: 'serve',
    salt: 'kc-dog-fare',
    startedDaysAgo: 70,
    endedDaysAgo: 12,
    decision: {
      position: null,
      reason: 'The site’s own page says so by now, so stopping it changes nothing for visitors.',
    },
    content: {
      hypothesis: 'Because people ask what a dog costs, we expect that the page on dogs answers it before they call.',
      pageRules: [{ match: 'exact', value: '/help/dogs' }],
      variants: [
        { name: 'Held back', weight: 500, edits: [] },
        {
          name: 'With the fare',
          weight: 9500,
          edits: [
            text(
              '.lead',
              'Dogs are welcome on every crossing.',
              'Dogs are welcome on every crossing, on a lead on the open deck. A dog costs € 3.00.',
            ),
          ],
        },
      ],
      metrics: [metric('Booking begun', 'conversion', visits('begins', '/book'))],
      plan: { ...SERVING_PLAN, baseline: 0.2, plannedVisitors: 4000 },
    },
  },
]

const TICKET = { type: 'event', name: 'ticket' } as const satisfies MetricSource
const tickets = metric('Tickets', 'conversion', TICKET)
const familyTickets = metric(
  'Family tickets',
  'conversion',
  { ...TICKET, detail: { name: 'children', is: 'least', number: 1 } },
  { role: 'secondary' },
)
const ticketAmount = metric('Ticket amount', 'mean', TICKET, { role: 'secondary' })

export const KIOSK_EXPERIMENTS: readonly DemoExperiment[] = [
  {
    name: 'Headline is an invitation',
    salt: 'kt-invitation',
    startedDaysAgo: 77,
    endedDaysAgo: 42,
    content: {
      hypothesis:
        'Because one visitor in six leaves without choosing an island, we expect that an invitation will bring more tickets than a question.',
      pageRules: [{ match: 'exact', value: '/' }],
      variants: [
        control,
        { name: 'Come aboard', weight: 1, edits: [text('h1', 'Where would you like to go?', 'Come aboard today')] },
      ],
      metrics: [tickets, ticketAmount],
      plan: {
        ...DEFAULT_PLAN,
        rule: 'sequential',
        baseline: 0.47,
        smallestLift: 0.12,
        plannedVisitors: 3000,
        longestWeeks: 5,
      },
    },
  },
  {
    name: 'Button says that payment comes next',
    salt: 'kt-pay-button',
    startedDaysAgo: 36,
    endedDaysAgo: null,
    content: {
      hypothesis:
        'Because people stop where they choose who travels, we expect that a button which says what comes next will bring more tickets.',
      pageRules: [{ match: 'begins', value: '/to/' }],
      variants: [control, { name: 'Pay by card', weight: 1, edits: [text('#to-pay', 'Go on', 'Pay by card')] }],
      metrics: [tickets, familyTickets, ticketAmount],
      plan: { ...DEFAULT_PLAN, baseline: 0.55, smallestLift: 0.12, plannedVisitors: 2900, longestWeeks: 6 },
    },
  },
]

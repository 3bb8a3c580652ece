import type { FindingState, FrozenReport, Pin, Severity } from '../../shared/findings/finding'

/** Something that the team has noted, and the view that it was seen in. */
export interface DemoFinding {
  title: string
  words: string
  severity: Severity
  state: FindingState
  tags: string[]
  page: string | null
  by: 'Mara Quill' | 'Tobin Hale' | 'Isla Venn'
  daysAgo: number
  /** Over the four weeks before it was noted. */
  frozen?: { report: FrozenReport; question: object; focus: string | null; place: string }
  pin?: Pin
  /** Notes that came with it. */
  file?: { name: string; text: string }
  /** Title of the finding that says the same. */
  mergedInto?: string
}

/** Days before a finding was noted that its figures are of. */
export const SEEN_DAYS = 28

const PHONES = 'device:phone'
const LENGTH = 'Phone visitors leave the booking at the length of the vehicle'

/** What is wrong with the crossings' site, as its team has found it. The survey has its number once it is made. */
export const crossingsFindings = (survey: number | null): readonly DemoFinding[] => [
  {
    title: LENGTH,
    words:
      'A third of those who begin the form on a phone leave at this one field, and whoever stays takes three times as long as at a desk. Nobody on a phone stands beside their car with a tape measure.',

    severity: 'high',
    state: 'taken up',
    tags: ['booking', 'phone'],
    page: '/book',
    by: 'Mara Quill',
    daysAgo: 40,
    frozen: {
      report: 'forms',
      question: { segment: PHONES },
      focus: '/book booking',
      place: `forms?segment=${PHONES}`,
    },
  },
  {
    title: 'Phones give up in the booking form',
    words: 'Seen in four recordings in a row.',
    severity: 'medium',

    state: 'open',
    tags: ['phone'],
    page: '/book',
    by: 'Isla Venn',
    daysAgo: 38,
    mergedInto: LENGTH,
  },
  {
    title: 'Fares lie below where most people scroll',
    words: 'Half of the visitors of a crossing never see what it costs. Several ask for it in the survey.',

    severity: 'high',
    state: 'open',
    tags: ['crossings', 'fares'],
    page: '/crossings/torrin',
    by: 'Isla Venn',
    daysAgo: 33,
    frozen: {
      report: 'reading',
      question: { of: 'is:/crossings/torrin', widthFrom: 0, widthBelow: 100_000 },

      focus: null,
      place: 'heatmap?of=is:/crossings/torrin&layer=reach',
    },
  },
  {
    title: 'The drawing looks as if it could be opened',
    words: 'Every click on it does nothing. A gallery, or nothing that looks like one.',

    severity: 'low',
    state: 'open',
    tags: ['crossings'],
    page: '/crossings/torrin',
    by: 'Tobin Hale',
    daysAgo: 30,
    frozen: {
      report: 'clicks',
      question: { of: 'is:/crossings/torrin', kind: 'dead', widthFrom: 0, widthBelow: 100_000 },

      focus: null,
      place: 'heatmap?of=is:/crossings/torrin&layer=dead',
    },
  },
  {
    title: 'The timetable sends many back to the start',
    words: 'They look for times of one crossing and get those of all of them.',

    severity: 'medium',
    state: 'open',
    tags: ['timetable'],
    page: '/timetable',
    by: 'Mara Quill',
    daysAgo: 29,
    frozen: { report: 'pages', question: {}, focus: '/timetable', place: 'page?of=/timetable' },
  },
  ...(survey === null
    ? []
    : [
        {
          title: 'Nearly half of the open answers ask about dogs',
          words: 'The page that answers it is under Help, and linked from nowhere that people come by.',

          severity: 'medium' as const,
          state: 'open' as const,
          tags: ['dogs', 'survey'],
          page: '/help/dogs',

          by: 'Isla Venn' as const,
          daysAgo: 3,
          frozen: {
            report: 'survey' as const,
            question: { survey },
            focus: null,
            place: `surveys/${survey}`,
          },
        },
      ]),
  {
    title: 'Two of five people measured their car wrongly',
    words:
      'User test with five drivers on their own phones. One took the length from the insurance papers, one guessed.',

    severity: 'medium',
    state: 'open',
    tags: ['booking', 'user test'],
    page: '/book',
    by: 'Tobin Hale',
    daysAgo: 12,
    file: {
      name: 'User test, five drivers.txt',
      text: 'Task: book the ferry to Torrin for two and your car.\n\n1. Types 4, goes back, types 4.3. "Is that with the towbar?"\n2. Guesses 5 to be safe. Pays more than needed.\n3. Looks it up in another tab, loses the form.\n4. Knows it by heart.\n5. Leaves: "I would do that at home."\n',
    },
  },
  {
    title: 'The label of the length has to be read twice',
    words:
      'Towbar, bicycle rack and registration document in one sentence; the example stands in the field and goes with the first key.',

    severity: 'low',
    state: 'set aside',
    tags: ['booking'],
    page: '/book',
    by: 'Mara Quill',
    daysAgo: 10,
    pin: { path: '/book', selector: '[name="length"]', element: 'field: Length of the vehicle in meters', width: 1280 },
  },
  {
    title: 'The finder’s button is missed on phones',
    words: 'One phone in eleven presses it, one desk in six. Many more press the heading, which does nothing.',

    severity: 'high',
    state: 'open',
    tags: ['finder', 'phone'],
    page: '/',
    by: 'Mara Quill',
    daysAgo: 36,
    frozen: {
      report: 'clicks',
      question: { of: 'is:/', kind: 'click', widthFrom: 0, widthBelow: 700, segment: PHONES },

      focus: null,
      place: `heatmap?of=is:/&segment=${PHONES}`,
    },
  },
  {
    title: 'Most sessions that open the booking end on it',
    words: 'More end there than on any other page that leads on.',

    severity: 'medium',
    state: 'open',
    tags: ['booking'],
    page: '/book',
    by: 'Isla Venn',
    daysAgo: 35,
    frozen: { report: 'pages', question: {}, focus: '/book', place: 'page?of=/book' },
  },
  {
    title: 'Few scroll as far as the newsletter',
    words: 'It stands under the pass promotion, which looks like the end of the page.',

    severity: 'low',
    state: 'open',
    tags: ['newsletter'],
    page: '/',
    by: 'Isla Venn',
    daysAgo: 27,
    frozen: {
      report: 'reading',
      question: { of: 'is:/', widthFrom: 0, widthBelow: 100_000 },

      focus: null,
      place: 'heatmap?of=is:/&layer=reach',
    },
  },
  {
    title: 'The pass promotion says nothing about money',
    words: 'Asked at the harbor, seven of ten did not know that a pass pays for itself with the fourth crossing.',

    severity: 'medium',
    state: 'open',
    tags: ['passes'],
    page: '/',
    by: 'Tobin Hale',
    daysAgo: 24,
  },
  {
    title: 'People call to ask whether a towbar counts',
    words: 'Twelve calls in a week at the harbor office, all of them from people standing at their car.',

    severity: 'medium',
    state: 'open',
    tags: ['booking', 'calls'],
    page: '/book',
    by: 'Tobin Hale',
    daysAgo: 21,
  },
  {
    title: 'Help is opened from within the booking',
    words: 'Those who leave the form for Help seldom come back to it.',

    severity: 'low',
    state: 'open',
    tags: ['booking', 'help'],
    page: '/help',
    by: 'Mara Quill',
    daysAgo: 18,
    frozen: { report: 'pages', question: {}, focus: '/help', place: 'page?of=/help' },
  },
  {
    title: 'The pass page hides what the pass costs',
    words: 'The price stands under four paragraphs. Two people in the user test looked for it in the menu.',

    severity: 'low',
    state: 'open',
    tags: ['passes', 'user test'],
    page: '/passes',
    by: 'Isla Venn',
    daysAgo: 9,
  },
  {
    title: 'Some cards are refused without a word',
    words: 'Two people called on Saturday: the payment page stayed as it was. They tried three times and left.',

    severity: 'high',
    state: 'open',
    tags: ['payment', 'calls'],
    page: '/book/pay',
    by: 'Isla Venn',
    daysAgo: 1,
  },
]

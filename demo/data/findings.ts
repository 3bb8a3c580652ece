import type { FindingState, FrozenReport, Pin, Severity } from '../../shared/findings'

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
    ...{
      severity: 'high',
      state: 'taken up',
      tags: ['booking', 'phone'],
      page: '/book',
      by: 'Mara Quill',
      daysAgo: 40,
    },
    frozen: {
      ...{ report: 'forms', question: { segment: PHONES }, focus: '/book booking' },
      place: `forms?segment=${PHONES}`,
    },
  },
  {
    ...{ title: 'Phones give up in the booking form', words: 'Seen in four recordings in a row.', severity: 'medium' },
    ...{ state: 'open', tags: ['phone'], page: '/book', by: 'Isla Venn', daysAgo: 38, mergedInto: LENGTH },
  },
  {
    title: 'Fares lie below where most people scroll',
    words: 'Half of the visitors of a crossing never see what it costs. Several ask for it in the survey.',
    ...{ severity: 'high', state: 'open', tags: ['crossings', 'fares'], page: '/crossings/torrin', by: 'Isla Venn' },
    daysAgo: 33,
    frozen: {
      report: 'reading',
      question: { of: 'is:/crossings/torrin', widthFrom: 0, widthBelow: 100_000 },
      ...{ focus: null, place: 'heatmap?of=is:/crossings/torrin&layer=reach' },
    },
  },
  {
    title: 'The drawing looks as if it could be opened',
    words: 'Every click on it does nothing. A gallery, or nothing that looks like one.',
    ...{
      severity: 'low',
      state: 'open',
      tags: ['crossings'],
      page: '/crossings/torrin',
      by: 'Tobin Hale',
      daysAgo: 30,
    },
    frozen: {
      report: 'clicks',
      question: { of: 'is:/crossings/torrin', kind: 'dead', widthFrom: 0, widthBelow: 100_000 },
      ...{ focus: null, place: 'heatmap?of=is:/crossings/torrin&layer=dead' },
    },
  },
  {
    title: 'The timetable sends many back to the start',
    words: 'They look for times of one crossing and get those of all of them.',
    ...{ severity: 'medium', state: 'open', tags: ['timetable'], page: '/timetable', by: 'Mara Quill', daysAgo: 29 },
    frozen: { report: 'pages', question: {}, focus: '/timetable', place: 'page?of=/timetable' },
  },
  ...(survey === null
    ? []
    : [
        {
          title: 'Nearly half of the open answers ask about dogs',
          words: 'The page that answers it is under Help, and linked from nowhere that people come by.',
          ...{ severity: 'medium' as const, state: 'open' as const, tags: ['dogs', 'survey'], page: '/help/dogs' },
          ...{ by: 'Isla Venn' as const, daysAgo: 3 },
          frozen: {
            ...{ report: 'survey' as const, question: { survey }, focus: null },
            place: `surveys/${survey}`,
          },
        },
      ]),
  {
    title: 'Two of five people measured their car wrongly',
    words:
      'User test with five drivers on their own phones. One took the length from the insurance papers, one guessed.',
    ...{
      severity: 'medium',
      state: 'open',
      tags: ['booking', 'user test'],
      page: '/book',
      by: 'Tobin Hale',
      daysAgo: 12,
    },
    file: {
      name: 'User test, five drivers.txt',
      text: 'Task: book the ferry to Torrin for two and your car.\n\n1. Types 4, goes back, types 4.3. "Is that with the towbar?"\n2. Guesses 5 to be safe. Pays more than needed.\n3. Looks it up in another tab, loses the form.\n4. Knows it by heart.\n5. Leaves: "I would do that at home."\n',
    },
  },
  {
    title: 'The label of the length has to be read twice',
    words:
      'Towbar, bicycle rack and registration document in one sentence; the example stands in the field and goes with the first key.',
    ...{ severity: 'low', state: 'set aside', tags: ['booking'], page: '/book', by: 'Mara Quill', daysAgo: 10 },
    pin: { path: '/book', selector: '[name="length"]', element: 'field: Length of the vehicle in meters', width: 1280 },
  },
]

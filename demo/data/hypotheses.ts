import type { Strength } from '../../core/hypotheses/pastLifts'
import type { Stage } from '../../shared/hypotheses/hypothesis'

/** What the demo's team expects of a change, and what has become of it. */
export interface DemoHypothesis {
  title: string
  change: string
  reason: string
  pages: string | null
  audience?: string
  /** Name of a metric of the site's experiments. */
  metric: string
  lifts: [low: number, likely: number, high: number] | null
  effortDays: number | null
  strength: Strength
  tags: string[]
  owner: 'Mara Quill' | 'Tobin Hale' | null
  stage: Stage
  stageReason?: string
  /** Titles of findings. */
  findings: string[]
  /** Names of experiments that were made from it. */
  experiments?: string[]
  daysAgo: number
  comments?: { by: 'Mara Quill' | 'Tobin Hale' | 'Isla Venn'; words: string }[]
  hand?: { place: number; reason: string }
}

/** What the team says that one is worth, in euro, by the name of the metric. */
export const DEMO_UNIT_VALUES: Readonly<Record<string, number>> = {
  Bookings: 54,
  'Finder used': 4,
  'Pass page opened': 2.5,
}
export const DEMO_TERMS = { dayCost: 450, paybackMonths: 6, longestWeeks: 12 }

const PHONES = 'device:phone'
const LENGTH = 'Phone visitors leave the booking at the length of the vehicle'
const FARES = 'Fares lie below where most people scroll'

export const CROSSINGS_HYPOTHESES: readonly DemoHypothesis[] = [
  {
    title: 'Today’s boats on top of the timetable',
    change: 'today’s next boats on top of the timetable',
    reason: 'people look for the boat that they can still catch',

    pages: 'is:/timetable',
    metric: 'Bookings',
    lifts: [-0.02, 0.15, 0.3],
    effortDays: 3,
    strength: 'weak',

    tags: ['timetable'],
    owner: 'Mara Quill',
    stage: 'learned',
    findings: [],
    daysAgo: 84,
    experiments: ['Timetable opens with the next boats'],
  },
  {
    title: 'The lowest fare in the heading',
    change: 'a heading that names the lowest fare',
    reason: 'what a crossing costs is what people come to find out',

    pages: 'begins:/crossings/',
    metric: 'Bookings',
    lifts: [0, 0.08, 0.15],
    effortDays: 1,
    strength: 'fair',

    tags: ['crossings', 'fares'],
    owner: 'Tobin Hale',
    stage: 'learned',
    findings: [FARES],
    daysAgo: 83,
    experiments: ['Crossing pages begin with the fare'],
  },
  {
    title: 'Name the islands in the headline',
    change: 'a headline with the islands’ names',
    reason: 'visitors do not know that the three islands are what they can go to',

    pages: 'is:/',
    metric: 'Bookings',
    lifts: [0, 0.05, 0.12],
    effortDays: 0.5,
    strength: 'fair',

    tags: ['start page'],
    owner: 'Mara Quill',
    stage: 'learned',
    findings: [],
    daysAgo: 60,
    experiments: ['Headline names the islands'],
  },
  {
    title: 'A pass button that says what comes next',
    change: 'a button that says what comes next',
    reason: '“Choose” sounds as if one had to pay at once',

    pages: 'is:/passes',
    metric: 'Pass page opened',
    lifts: [0, 0.1, 0.25],
    effortDays: 0.5,
    strength: 'weak',

    tags: ['passes'],
    owner: 'Tobin Hale',
    stage: 'learned',
    findings: [],
    daysAgo: 59,
    experiments: ['Pass button says what to do'],
  },
  {
    title: 'Say how many steps the booking takes',
    change: 'the number of steps in the heading',
    reason: 'people leave where they cannot see an end',

    pages: 'is:/book',
    metric: 'Bookings',
    lifts: [0, 0.04, 0.1],
    effortDays: 1,
    strength: 'weak',

    tags: ['booking'],
    owner: 'Mara Quill',
    stage: 'in test',
    daysAgo: 30,
    findings: ['Most sessions that open the booking end on it'],
    experiments: ['Booking says it takes three steps'],
  },
  {
    title: 'A button with the price on crossing pages',
    change: 'a button that names the price',
    reason: 'fares are looked for and not found',

    pages: 'begins:/crossings/',
    metric: 'Bookings',
    lifts: [0, 0.06, 0.15],
    effortDays: 1.5,
    strength: 'strong',

    tags: ['crossings', 'fares'],
    owner: 'Tobin Hale',
    stage: 'in test',
    findings: [FARES],
    daysAgo: 35,
    experiments: ['Book button on crossing pages'],
    comments: [
      { by: 'Isla Venn', words: 'Dogs go for less than € 7. Shall we say “from” or the adult’s fare?' },
      { by: 'Tobin Hale', words: '@Isla Venn “from”. The fare of a party is on the next page.' },
    ],
  },
  {
    title: 'Say what comes after the first step',
    change: 'a button that says what comes next',
    reason: '“Go on” does not say whether one pays now',

    pages: 'is:/book',
    metric: 'Booked amount',
    lifts: [0, 0.05, 0.1],
    effortDays: 0.5,
    strength: 'fair',

    tags: ['booking'],
    owner: 'Mara Quill',
    stage: 'in test',
    daysAgo: 22,
    findings: ['Most sessions that open the booking end on it'],
    experiments: ['First booking step says what is next'],
  },
  {
    title: 'A finder button with the word ferry',
    change: 'a button with the word ferry, as wide as the screen',
    reason: 'it looks like a part of the heading above it',

    pages: 'is:/',
    audience: PHONES,
    metric: 'Finder used',
    lifts: [0.02, 0.1, 0.3],
    effortDays: 1,
    strength: 'strong',

    tags: ['finder', 'phone'],
    owner: 'Tobin Hale',
    stage: 'in test',
    daysAgo: 6,
    findings: ['The finder’s button is missed on phones'],
    experiments: ['Finder button says where to'],
  },
  {
    title: 'Name the saving in the pass promotion',
    change: 'the sum that a family saves with a pass',
    reason: 'nobody knows that a pass pays for itself with the fourth crossing',

    pages: 'is:/',
    metric: 'Pass page opened',
    lifts: [0.05, 0.3, 0.6],
    effortDays: 1,
    strength: 'fair',

    tags: ['passes'],
    owner: 'Tobin Hale',
    stage: 'worth testing',
    daysAgo: 20,
    findings: ['The pass promotion says nothing about money'],
    experiments: ['Pass promotion names the saving'],
  },
  {
    title: 'Three sizes in place of the vehicle’s length',
    change: 'three sizes to choose from in place of the length in meters',
    reason: 'nobody on a phone stands beside their car with a tape measure',

    pages: 'is:/book',
    audience: PHONES,
    metric: 'Bookings',
    lifts: [0.02, 0.15, 0.35],
    effortDays: 4,

    strength: 'strong',
    tags: ['booking', 'phone'],
    owner: 'Mara Quill',
    stage: 'worth testing',
    daysAgo: 15,
    findings: [LENGTH, 'Two of five people measured their car wrongly', 'People call to ask whether a towbar counts'],
    comments: [
      { by: 'Mara Quill', words: 'The strongest evidence that we have. @Tobin Hale can the crew live with sizes?' },
      { by: 'Tobin Hale', words: 'They measure at the ramp anyway. Small, medium and with trailer is fine.' },
    ],
  },
  {
    title: 'Take the length from the number plate',
    change: 'a field for the number plate that looks the length up',
    reason: 'the plate is known by heart',

    pages: 'is:/book',
    metric: 'Bookings',
    lifts: [0, 0.15, 0.4],
    effortDays: 25,
    strength: 'weak',

    tags: ['booking'],
    owner: null,
    stage: 'new',
    findings: [LENGTH],
    daysAgo: 12,
  },
  {
    title: 'Fares beside the sailing times',
    change: 'the fare of each crossing beside its times, above the pictures',
    reason: 'half of the visitors never see what a crossing costs',

    pages: 'begins:/crossings/',
    metric: 'Bookings',
    lifts: [0.02, 0.16, 0.3],
    effortDays: 3,

    strength: 'fair',
    tags: ['crossings', 'fares'],
    owner: 'Tobin Hale',
    stage: 'worth testing',
    daysAgo: 11,
    findings: [FARES, 'The drawing looks as if it could be opened'],
  },
  {
    title: 'Answer the question about dogs on every crossing page',
    change: 'a line that says that dogs travel free on the open deck, with a link',
    reason: 'half of the open answers ask for it',

    pages: 'begins:/crossings/',
    metric: 'Bookings',
    lifts: [0, 0.03, 0.08],
    effortDays: 0.5,
    strength: 'fair',

    tags: ['dogs'],
    owner: null,
    stage: 'new',
    daysAgo: 3,
    findings: ['Nearly half of the open answers ask about dogs'],
    hand: { place: 3, reason: 'Promised to everybody who answered the survey.' },
  },
  {
    title: 'One timetable for each crossing',
    change: 'a choice of the crossing above the timetable',
    reason: 'people look for the times of one crossing and get those of all',

    pages: 'is:/timetable',
    metric: 'Bookings',
    lifts: [0.02, 0.3, 0.6],
    effortDays: 5,
    strength: 'fair',

    tags: ['timetable'],
    owner: 'Mara Quill',
    stage: 'new',
    daysAgo: 28,
    findings: ['The timetable sends many back to the start'],
  },
  {
    title: 'Explain the towbar beside the field',
    change: 'a drawing that shows where the length is measured',
    reason: 'the label has to be read twice',

    pages: 'is:/book',
    metric: 'Bookings',
    lifts: [0.01, 0.1, 0.2],
    effortDays: 1,
    strength: 'fair',

    tags: ['booking'],
    owner: null,
    stage: 'new',
    daysAgo: 9,
    findings: ['People call to ask whether a towbar counts', 'The label of the length has to be read twice'],
  },
  {
    title: 'Keep the form when somebody opens Help',
    change: 'Help in a panel beside the form',
    reason: 'whoever leaves the form seldom comes back',

    pages: 'begins:/book',
    metric: 'Bookings',
    lifts: [0, 0.02, 0.06],
    effortDays: 4,
    strength: 'weak',

    tags: ['booking', 'help'],
    owner: null,
    stage: 'new',
    daysAgo: 16,
    findings: ['Help is opened from within the booking'],
  },
  {
    title: 'The price first on the pass page',
    change: 'the price of the pass above the text',
    reason: 'people look for it in the menu',

    pages: 'is:/passes/island-hopper',
    metric: 'Bookings',
    lifts: [0, 0.1, 0.25],
    effortDays: 0.5,
    strength: 'weak',

    tags: ['passes'],
    owner: null,
    stage: 'new',
    daysAgo: 8,
    findings: ['The pass page hides what the pass costs'],
  },
  {
    title: 'The newsletter above the pass promotion',
    change: 'the newsletter’s field above the promotion',
    reason: 'hardly anybody scrolls as far as it',

    pages: 'is:/',
    metric: 'Bookings',
    lifts: [-0.03, 0, 0.02],
    effortDays: 1,
    strength: 'weak',

    tags: ['newsletter'],
    owner: null,
    stage: 'set aside',
    daysAgo: 26,
    stageReason: 'More letters are not more bookings, and the promotion would move down.',
    findings: ['Few scroll as far as the newsletter'],
  },
  {
    title: 'Chat in the booking',
    change: 'a chat window on the booking pages',
    reason: 'people call with questions anyway',

    pages: 'begins:/book',
    metric: 'Bookings',
    lifts: [-0.05, 0.02, 0.08],
    effortDays: 15,
    strength: 'weak',

    tags: ['booking'],
    owner: null,
    stage: 'set aside',
    findings: [],
    daysAgo: 45,
    stageReason: 'Nobody has the time to answer on a summer morning.',
  },
  {
    title: 'A reminder for those who left the booking',
    change: 'a letter to those who gave their address and did not pay',
    reason: 'some only wanted to ask somebody else first',

    pages: 'is:/book/pay',
    metric: 'Booked amount',
    lifts: null,
    effortDays: null,
    strength: 'weak',

    tags: ['booking', 'mail'],
    owner: 'Mara Quill',
    stage: 'new',
    findings: [],
    daysAgo: 5,
  },
]

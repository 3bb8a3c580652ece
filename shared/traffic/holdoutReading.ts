import { amount, exactly, id, interval, listOf, moment, oneOf, text, whole, yesOrNo } from '../api/replyPieces'
import { allocationReply, liftEstimate, shortfallReply } from '../experiments/resultsReplies'
import { metricDefinition } from '../metrics/replies'
import type { InferType } from '../yup'
import { stateReply } from './replies'

const month = exactly({
  /** The first of its days that are looked at. */
  day: text(),
  visitors: listOf(whole()),
})

const metricReading = exactly({
  metric: exactly({ id: text(), name: text(), direction: oneOf('up', 'down'), ...metricDefinition }),
  /** Of those who are held out, and of all others. */
  arms: listOf(exactly({ visitors: whole(), mean: amount().nullable() })),
  /** Of the others against those who are held out; valid however often one looks. */
  lift: liftEstimate,
  difference: amount().nullable(),
  pValue: amount().nullable(),
  shortfall: shortfallReply.nullable(),
  /** In the order of the months, for one look at each: what visitors of the month did in it. */
  months: listOf(liftEstimate),
  /** What the things begun in the period promised by their own measurements; null where none measures it. */
  promised: exactly({
    difference: amount(),
    lift: amount().nullable(),
    interval: interval().nullable(),
    /** How many things measure it. */
    things: whole(),
  }).nullable(),
})
/** What those who are held out, and all others, came to in one metric. */
export type HeldOutMetric = InferType<typeof metricReading>

const thing = exactly({
  experiment: id(),
  name: text(),
  purpose: oneOf('test', 'serve'),
  state: stateReply(),
  /** Its start, or that of its rollout where only that was in the period. */
  begunAt: moment(),
  /** Its visitors do not fit its split: what it measures is in no sum. */
  isDistrusted: yesOrNo(),
  /** Who got something else than the original. */
  visitors: whole(),
})
/** Something that was begun in the period of a holdout, and is kept from its visitors. */
export type KeptThing = InferType<typeof thing>

export const holdoutReadingReply = exactly({
  from: moment(),
  until: moment(),
  /** Of those who are held out, and of all others. */
  visitors: listOf(whole()),
  allocation: allocationReply,
  alpha: amount(),
  months: listOf(month),
  metrics: listOf(metricReading),
  things: listOf(thing),
  currency: text(),
})
/** What a holdout shows of everything that was begun in its period. */
export type HoldoutReading = InferType<typeof holdoutReadingReply>

import {
  amount,
  anything,
  deciding,
  exactly,
  id,
  listOf,
  moment,
  oneOf,
  text,
  whole,
  yesOrNo,
} from '../api/replyPieces'
import type { Persona } from '../../core/targeting/persona'
import type { Trace } from '../../core/targeting/trace'
import type { Group } from '../../core/targeting/condition'
import type { AudienceUse } from './audience'
import { stateReply } from '../traffic/replies'
import { object, type InferType } from '../yup'

/** An experiment, a survey or another audience. */
const use = object<Record<keyof Extract<AudienceUse, { kind: 'experiment' }> | 'isOver', never>>({
  kind: oneOf('experiment', 'audience', 'survey'),
  id: id(),
  name: text(),
  state: stateReply().optional(),
  version: whole().nullable().optional(),
  isOver: yesOrNo().optional(),
})
  .strict()
  .noUnknown()

export const audienceReply = exactly({
  id: id(),
  name: text(),
  version: id(),
  conditions: anything<Group>(),
  /** What can never hold, or always does. */
  problems: listOf(text()),
  uses: listOf(deciding<AudienceUse>(use)),
  changedAt: moment(),
  changedBy: text().nullable(),
})
export type SavedAudienceView = InferType<typeof audienceReply>

export const audiencesReply = listOf(audienceReply)
const audienceVersion = exactly({
  version: id(),
  conditions: anything<Group>(),
  madeAt: moment(),
  madeBy: text().nullable(),
})
/** What a saved audience asked when it had a version. */
export type AudienceVersionView = InferType<typeof audienceVersion>

export const audienceVersionsReply = listOf(audienceVersion)
export const audienceSizeReply = exactly({
  /** Visitors of the site, and how many of them were looked at. */
  visitors: whole(),
  looked: whole(),
  /** Of those who were looked at. */
  inside: whole(),
  /** What the past does not tell. */
  unknown: listOf(text()),
  /** For each of the audience's own conditions, in words, how many it kept out. */
  keptOut: listOf(exactly({ words: text(), visitors: whole() })),
})
/** How many visitors of the last four weeks an audience would have let in, by replaying what is kept of them. */
export type AudienceSize = InferType<typeof audienceSizeReply>

export const personaReply = exactly({
  id: id(),
  name: text(),
  /** Draws its buckets, as the id of any visitor does. */
  visitor: text(),
  facts: anything<Persona>(),
})
export type PersonaView = InferType<typeof personaReply>

export const personasReply = listOf(personaReply)

const reason = () => oneOf('page', 'audience', 'person', 'holdout', 'test', 'group', 'share', 'waits')
const dryRunRow = exactly({
  kind: oneOf('experiment', 'rollout', 'survey', 'recording', 'behavior'),
  id: id(),
  name: text(),
  state: stateReply(),
  reason: reason().nullable(),
  /** Name of the variant. */
  variant: text().nullable(),
  /** When it takes effect, in words. */
  activation: text().nullable(),
  trace: anything<Trace>().nullable(),
})
/** What a made-up visitor would get of one thing on a page, and why. */
export type DryRunRow = InferType<typeof dryRunRow>

export const dryRunReply = exactly({
  address: text(),
  visitor: text(),
  rows: listOf(dryRunRow),
})
export type DryRunView = InferType<typeof dryRunReply>

const decision = exactly({
  experiment: id(),
  name: text(),
  /** Position and name of the variant; the control is at 0. */
  variant: whole(),
  variantName: text(),
})
/** What a visitor gets of an experiment that runs. */
export type DecisionView = InferType<typeof decision>

export const decisionsReply = listOf(decision)
export const panelReply = exactly({ link: text(), expiresAt: moment() })
/** A page of the site that opens with the panel. */
export type PanelLink = InferType<typeof panelReply>

export const pastDryRunReply = exactly({
  /** Visitors of the site in the week, and how many of them were looked at. */
  visitors: whole(),
  looked: whole(),
  /** Of those who were looked at: who would have taken part, and why the others would not. */
  entered: whole(),
  /** Visitors of the whole site who would take part, in a day. */
  aDay: amount(),
  /** How long the plan takes at this pace; null where it cannot be said. */
  weeks: amount().nullable(),
  reasons: listOf(exactly({ reason: reason(), visitors: whole() })),
  /** Of those whom the audience kept out, by each of its own conditions. */
  conditions: listOf(exactly({ words: text(), visitors: whole() })),
  variants: listOf(exactly({ name: text(), visitors: whole() })),
  /** What the past does not tell. */
  unknown: listOf(text()),
})
/** What would have become of the visitors of the last week with an experiment. */
export type PastDryRunView = InferType<typeof pastDryRunReply>

import type { AudienceSize, AudienceUse, AudienceVersionView, SavedAudienceView } from './audience'
import type { PanelLink } from '../delivery/panel'
import type { DecisionView, DryRunRow, DryRunView, PastDryRunView, PersonaView } from './persona'
import { amount, anything, exactly, id, listOf, moment, oneOf, text, whole } from '../api/replyPieces'
import { stateReply } from '../traffic/replies'
import { object } from '../yup'

/** An experiment or another audience. */
const use = object<Record<keyof Extract<AudienceUse, { kind: 'experiment' }>, never>>({
  kind: oneOf('experiment', 'audience'),
  id: id(),
  name: text(),

  state: stateReply().optional(),
  version: whole().nullable().optional(),
})
  .strict()
  .noUnknown()

export const audienceReply = exactly<SavedAudienceView>({
  id: id(),
  name: text(),
  version: id(),
  conditions: anything(),
  problems: listOf(text()),
  uses: listOf(use),

  changedAt: moment(),
  changedBy: text().nullable(),
})
export const audiencesReply = listOf(audienceReply)
export const audienceVersionsReply = listOf(
  exactly<AudienceVersionView>({ version: id(), conditions: anything(), madeAt: moment(), madeBy: text().nullable() }),
)
export const audienceSizeReply = exactly<AudienceSize>({
  visitors: whole(),
  looked: whole(),
  inside: whole(),
  unknown: listOf(text()),
  keptOut: listOf(exactly<AudienceSize['keptOut'][number]>({ words: text(), visitors: whole() })),
})

export const personaReply = exactly<PersonaView>({ id: id(), name: text(), visitor: text(), facts: anything() })
export const personasReply = listOf(personaReply)

const reason = () => oneOf('page', 'audience', 'person', 'holdout', 'group', 'share', 'waits')
export const dryRunReply = exactly<DryRunView>({
  address: text(),
  visitor: text(),
  rows: listOf(
    exactly<DryRunRow>({
      kind: oneOf('experiment', 'rollout', 'survey', 'recording', 'behavior'),

      id: id(),
      name: text(),
      state: stateReply(),
      reason: reason().nullable(),
      variant: text().nullable(),

      activation: text().nullable(),
      trace: anything().nullable(),
    }),
  ),
})
export const decisionsReply = listOf(
  exactly<DecisionView>({ experiment: id(), name: text(), variant: whole(), variantName: text() }),
)
export const panelReply = exactly<PanelLink>({ link: text(), expiresAt: moment() })
export const pastDryRunReply = exactly<PastDryRunView>({
  visitors: whole(),
  looked: whole(),
  entered: whole(),
  aDay: amount(),
  weeks: amount().nullable(),
  reasons: listOf(exactly<PastDryRunView['reasons'][number]>({ reason: reason(), visitors: whole() })),
  conditions: listOf(exactly<PastDryRunView['conditions'][number]>({ words: text(), visitors: whole() })),
  variants: listOf(exactly<PastDryRunView['variants'][number]>({ name: text(), visitors: whole() })),
  unknown: listOf(text()),
})

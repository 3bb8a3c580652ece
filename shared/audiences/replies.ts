import { amount, anything, deciding, exactly, id, listOf, moment, oneOf, text, whole } from '../api/replyPieces'
import type { Persona } from '../../core/targeting/persona'
import type { Trace } from '../../core/targeting/trace'
import type { Group } from '../../core/targeting/condition'
import type { AudienceUse } from './audience'
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

export const audienceReply = exactly({
  id: id(),
  name: text(),
  version: id(),
  conditions: anything<Group>(),
  problems: listOf(text()),
  uses: listOf(deciding<AudienceUse>(use)),

  changedAt: moment(),
  changedBy: text().nullable(),
})
export const audiencesReply = listOf(audienceReply)
export const audienceVersionsReply = listOf(
  exactly({ version: id(), conditions: anything<Group>(), madeAt: moment(), madeBy: text().nullable() }),
)
export const audienceSizeReply = exactly({
  visitors: whole(),
  looked: whole(),
  inside: whole(),
  unknown: listOf(text()),
  keptOut: listOf(exactly({ words: text(), visitors: whole() })),
})

export const personaReply = exactly({ id: id(), name: text(), visitor: text(), facts: anything<Persona>() })
export const personasReply = listOf(personaReply)

const reason = () => oneOf('page', 'audience', 'person', 'holdout', 'group', 'share', 'waits')
export const dryRunReply = exactly({
  address: text(),
  visitor: text(),
  rows: listOf(
    exactly({
      kind: oneOf('experiment', 'rollout', 'survey', 'recording', 'behavior'),

      id: id(),
      name: text(),
      state: stateReply(),
      reason: reason().nullable(),
      variant: text().nullable(),

      activation: text().nullable(),
      trace: anything<Trace>().nullable(),
    }),
  ),
})
export const decisionsReply = listOf(exactly({ experiment: id(), name: text(), variant: whole(), variantName: text() }))
export const panelReply = exactly({ link: text(), expiresAt: moment() })
export const pastDryRunReply = exactly({
  visitors: whole(),
  looked: whole(),
  entered: whole(),
  aDay: amount(),
  weeks: amount().nullable(),
  reasons: listOf(exactly({ reason: reason(), visitors: whole() })),
  conditions: listOf(exactly({ words: text(), visitors: whole() })),
  variants: listOf(exactly({ name: text(), visitors: whole() })),
  unknown: listOf(text()),
})

import type { Group } from '../../core/targeting/condition'
import { audienceSchema } from './condition'
import type { ExperimentState } from '../experiments/experiment'
import { object, string, type Schema } from '../yup'

const name = string().trim().max(80, 'The name is longer than 80 characters.').required('Give the audience a name.')

/** Conditions on visitors under a name. */
const conditions = audienceSchema as unknown as Schema<Group | null>
export const savedAudienceSchema = object({ name, conditions })
export interface SavedAudienceInput {
  name: string
  conditions: Group | null
}

/** What uses an audience: an experiment, with the version that it was started with, or another audience. */
export type AudienceUse =
  | { kind: 'experiment'; id: number; name: string; state: ExperimentState; version: number | null }
  | { kind: 'audience'; id: number; name: string }

export interface SavedAudienceView {
  id: number
  name: string
  version: number
  conditions: Group
  /** What can never hold, or always does. */
  problems: string[]
  uses: AudienceUse[]
  changedAt: string
  changedBy: string | null
}

/** What a saved audience asked when it had a version. */
export interface AudienceVersionView {
  version: number
  conditions: Group
  madeAt: string
  madeBy: string | null
}

export const audienceSizeSchema = object({ conditions })

/** How many visitors of the last four weeks an audience would have let in, by replaying what is kept of them. */
export interface AudienceSize {
  /** Visitors of the site, and how many of them were looked at. */
  visitors: number
  looked: number
  /** Of those who were looked at. */
  inside: number
  /** What the past does not tell. */
  unknown: string[]
  /** For each of the audience's own conditions, in words, how many it kept out. */
  keptOut: { words: string; visitors: number }[]
}

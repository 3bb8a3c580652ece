import type { Group } from '../../core/targeting/condition'
import { audienceSchema } from './condition'
import type { ExperimentState } from '../experiments/experiment'
import { object, string, type Schema, type InferType } from '../yup'

const name = string().trim().max(80, 'The name is longer than 80 characters.').required('Give the audience a name.')

/** Conditions on visitors under a name. */
const conditions = audienceSchema as unknown as Schema<Group | null>
export const savedAudienceSchema = object({ name, conditions })
export type SavedAudienceInput = InferType<typeof savedAudienceSchema>

/** What uses an audience: an experiment, with the version that it was started with, a survey, or another audience. */
export type AudienceUse =
  | { kind: 'experiment'; id: number; name: string; state: ExperimentState; version: number | null }
  | { kind: 'audience'; id: number; name: string }
  | { kind: 'survey'; id: number; name: string; isOver: boolean }

export const audienceSizeSchema = object({ conditions })

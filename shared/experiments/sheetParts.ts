import { MOST_COMBINATIONS_ON } from '../../core/preflight/factorFindings'
import { audienceSchema } from '../audiences/condition'
import { pageRuleSchema } from '../audiences/pageRule'
import { editSchema } from '../edits/edit'
import { array, number, object, string } from '../yup'

export const MOST_VARIANTS = MOST_COMBINATIONS_ON
export const MOST_EDITS = 100
export const MOST_LEVELS = 5
/** Of all levels, on and off. */
export const MOST_COMBINATIONS = 64
export const MOST_METRICS = 20

/** Of a thing on a sheet: drawn where it is made, and kept. */
export const idSchema = string()
  .strict()
  .typeError('A thing on a sheet has an id of 6 to 40 letters and digits.')
  .matches(/^[\w-]{6,40}$/, 'A thing on a sheet has an id of 6 to 40 letters and digits.')

export const sheetPageRuleSchema = pageRuleSchema.shape({ id: idSchema.required() })

export const variantSchema = object({
  id: idSchema.required(),
  name: string().trim().max(60, 'The name is longer than 60 characters.').required('Give the variant a name.'),
  weight: number()
    .integer('Use a whole number for the weight.')
    .min(0, 'A weight cannot be negative.')
    .max(10_000, 'A weight is at most 10,000.')
    .required('Give the variant a weight.')
    .typeError('Give the variant a weight.'),
  edits: array(editSchema).max(MOST_EDITS, `A variant holds at most ${MOST_EDITS} edits.`).required(),
  /** Of a multivariate test: what it combines. */
  levels: array(idSchema.required()).nullable().default(undefined),
  /** Of a personalization: whom this wording is for. */
  audience: audienceSchema,
})

const nameOfPart = (what: string) =>
  string().trim().max(60, 'The name is longer than 60 characters.').required(`Give the ${what} a name.`)

export const levelSchema = object({
  id: idSchema.required(),
  name: nameOfPart('level'),
  edits: array(editSchema).max(MOST_EDITS, `A level holds at most ${MOST_EDITS} edits.`).required(),
})

export const factorSchema = object({
  id: idSchema.required(),
  name: nameOfPart('factor'),
  levels: array(levelSchema.required())
    .min(1, 'A factor has the page as it is for its first level.')
    .max(MOST_LEVELS, `A factor has at most ${MOST_LEVELS} levels.`)
    .required('List the levels of the factor.'),
})

export const combinationOffSchema = object({ id: idSchema.required() })

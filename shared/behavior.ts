import { array, boolean, number, object, string, type Schema } from './yup'
import { BANDS, BEHAVIOR_TYPES, MOST_FIELDS, type BehaviorType } from '../core/evidence/behavior'

/** What of behavior is taken: everything that browsers tell is checked, type by type. */
const LONGEST_NAME = 60
const LONGEST_TIME = 24 * 60 * 60 * 1000
const TALLEST = 10_000_000

const ms = () => number().strict().integer().min(0).max(LONGEST_TIME).required()
const pixels = () => number().strict().integer().min(0).max(TALLEST).required()
const word = (most = LONGEST_NAME) => string().strict().max(most)
const exactly = (fields: Record<string, Schema>) => object(fields).strict().noUnknown().required()

const SCHEMAS: Record<BehaviorType, Schema | null> = {
  rage: exactly({ clicks: number().strict().integer().min(2).max(1000).required() }),
  dead: null,
  reading: exactly({
    seen: ms(),
    depth: pixels(),
    height: pixels(),
    bands: array(ms()).strict().length(BANDS).required(),
  }),
  form: exactly({
    fields: array(exactly({ name: word().required(), label: word().defined(), kind: word(20).required() }))
      .strict()
      .max(MOST_FIELDS)
      .required(),
  }),
  field: exactly({
    form: word().required(),
    time: ms(),
    hesitation: number().strict().integer().min(0).max(LONGEST_TIME).nullable().defined(),
    isBlank: boolean().strict().required(),
    isRefill: boolean().strict().required(),
  }),
}

/** Whether an event of a type may have these properties; those that are no behavior have none. */
export function hasPropertiesOf(type: unknown, properties: unknown): boolean {
  const schema = (BEHAVIOR_TYPES as readonly unknown[]).includes(type) ? SCHEMAS[type as BehaviorType] : null
  return schema ? schema.isValidSync(properties, { strict: true }) : properties === undefined
}

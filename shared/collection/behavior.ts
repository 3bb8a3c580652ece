import { array, boolean, number, object, string, type Schema } from '../yup'
import { BANDS, LONGEST_ANSWER, MOST_FIELDS, type BehaviorType, type SurveyType } from '../../core/evidence/behavior'
import { DAY } from '../../core/time/units'

/** What of behavior and answers is taken: everything that browsers tell is checked, type by type. */
const LONGEST_NAME = 60
const LONGEST_TIME = DAY
const TALLEST = 10_000_000
/** Choices that one answer names. */
const MOST_CHOICES = 12

const ms = () => number().strict().integer().min(0).max(LONGEST_TIME).required()
const pixels = () => number().strict().integer().min(0).max(TALLEST).required()
const word = (most = LONGEST_NAME) => string().strict().max(most)
const exactly = (fields: Record<string, Schema>) => object(fields).strict().noUnknown().required()

const survey = () => number().strict().integer().min(1).max(2_147_483_647).required()

const edits = () => array(word(40).required()).strict().max(100).required()

const SCHEMAS: Record<BehaviorType | SurveyType | 'drift', Schema | null> = {
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
  drift: exactly({ looked: edits(), lost: edits(), byClues: edits() }),
  asked: exactly({ survey: survey() }),
  answer: exactly({
    survey: survey(),
    question: word(20).required(),
    choices: array(word(20).required()).strict().max(MOST_CHOICES).required(),
    value: number().strict().integer().min(0).max(10).nullable().defined(),
    text: word(LONGEST_ANSWER).nullable().defined(),
  }),
}

/** Whether an event of a type may have these properties; those that are no behavior have none. */
export function hasPropertiesOf(type: unknown, properties: unknown): boolean {
  const isOwn = typeof type === 'string' && Object.hasOwn(SCHEMAS, type)
  const schema = isOwn ? SCHEMAS[type as keyof typeof SCHEMAS] : null
  return schema ? schema.isValidSync(properties, { strict: true }) : properties === undefined
}

import { array, lazy, number, object, string, type Schema } from '../yup'
import { pageRuleSchema } from './pageRule'
import { comparisonsOf, NUMBER_COMPARISONS, TEXT_COMPARISONS, valuesOf } from '../../core/targeting/comparisons'
import { isGroup, type Comparison, type Condition } from '../../core/targeting/condition'
import { FACT_WORDS } from '../../core/targeting/conditionWords'
import { regexProblem } from '../../core/targeting/regexProblem'
import { FACTS, NAMED_FACTS, type Fact } from '../../core/targeting/visitorFacts'

/** Conditions of one audience, groups counted too. */
export const MOST_CONDITIONS = 60
const DEEPEST = 5
const MOST_TEXTS = 100

const isAsked = (is: unknown, among: readonly Comparison[]) => among.includes(is as Comparison)

const testSchema = object({
  fact: string().oneOf(FACTS, 'Choose what is asked of the visitor.').required('Choose what is asked of the visitor.'),
  name: string()
    .trim()
    .max(100, 'The name is longer than 100 characters.')
    .when('fact', {
      is: (fact: unknown) => NAMED_FACTS.includes(fact as Fact),
      then: (schema) => schema.required('Type its name.'),
    }),
  is: string<Comparison>()
    .required('Choose how it is compared.')
    .test('is', 'This cannot be compared in that way.', (is, { parent }) =>
      comparisonsOf((parent as { fact: Fact }).fact).includes(is),
    ),
  texts: array(string().trim().max(200, 'A value is longer than 200 characters.').defined())
    .max(MOST_TEXTS, `At most ${MOST_TEXTS} values.`)
    .when('is', {
      is: (is: unknown) => isAsked(is, TEXT_COMPARISONS),
      then: (schema) => schema.min(1, 'Type at least one value.').required('Type at least one value.'),
    })
    .test('texts', (texts, { parent, createError }) => {
      const { fact, is } = parent as { fact: Fact; is: unknown }
      const known = valuesOf(fact)
      const wrong = known && texts?.find((text) => !known.includes(text))
      if (wrong) return createError({ message: `${FACT_WORDS[fact]} is never “${wrong}”.` })
      const problem = is === 'regex' ? texts?.map(regexProblem).find((each) => each !== null) : null
      return !problem || createError({ message: problem })
    }),
  number: number()
    .typeError('Type a number.')
    .when('is', {
      is: (is: unknown) => isAsked(is, NUMBER_COMPARISONS),
      then: (schema) => schema.required('Type a number.'),
    }),
  to: number()
    .typeError('Type a number.')
    .when('is', { is: 'between', then: (schema) => schema.required('Type a number.') }),
  days: number().typeError('Type a number of days.').integer('Use whole days.').min(1, 'At least one day.').max(365),
  page: pageRuleSchema.default(undefined).when('fact', {
    is: 'seen',
    then: (schema) => schema.required('Say which page.'),
  }),
  zone: string().oneOf(['visitor', 'site'] as const),
  id: number()
    .integer()
    .min(1)
    .when('fact', {
      is: (fact: unknown) => fact === 'audience' || fact === 'variant',
      then: (schema) => schema.required('Choose which one.'),
    }),
  numbers: array(number().integer().min(0).max(100).required())
    .max(20)
    .when('fact', {
      is: 'variant',
      then: (schema) => schema.min(1, 'Choose a variant.').required('Choose a variant.'),
    }),
})

const groupSchema: Schema = object({
  join: string()
    .oneOf(['all', 'any', 'none'] as const)
    .required(),
  of: array(lazy((value: unknown) => conditionOf(value)))
    .max(MOST_CONDITIONS, `At most ${MOST_CONDITIONS} conditions.`)
    .defined(),
})

const conditionOf = (value: unknown): Schema =>
  typeof value === 'object' && value !== null && 'join' in value ? groupSchema : testSchema

/** Conditions on visitors: a group at the outside; null for everybody. */
export const audienceSchema = lazy((value: unknown) =>
  value === null || value === undefined
    ? object().nullable().default(null)
    : groupSchema.test(
        'size',
        `At most ${MOST_CONDITIONS} conditions, in groups of at most ${DEEPEST} levels.`,
        (group) => isWithinSize(group as Condition),
      ),
)

function isWithinSize(condition: Condition): boolean {
  const sizeOf = (each: Condition, depth: number): number => {
    if (depth > DEEPEST) return Infinity
    return isGroup(each) ? each.of.reduce((sum, one) => sum + sizeOf(one, depth + 1), 1) : 1
  }
  return sizeOf(condition, 1) <= MOST_CONDITIONS
}

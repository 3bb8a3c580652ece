import {
  array,
  boolean,
  mixed,
  number,
  object,
  string,
  tuple,
  type AnyObject,
  type ISchema,
  type ObjectShape,
  type Schema,
} from '../yup'

/**
 * Schemas of what the API answers, field by field. They describe the answers to programs, and tests hold every answer
 * against them; nothing is converted.
 */

/** An object with these fields and no others. */
export function exactly<Fields extends ObjectShape>(fields: Fields) {
  return object(fields).strict().noUnknown().required()
}

export const text = () => string().strict().defined()
export const amount = () => number().strict().required()
export const whole = () => number().strict().integer().required()
export const id = () => whole().min(1)
export const yesOrNo = () => boolean().strict().required()
export const oneOf = <Word extends string>(...words: Word[]) => text().oneOf(words)
export const listOf = <Value>(item: ISchema<Value, AnyObject>) => array(item).strict().required()
/** A date and time in the ISO 8601 format. */
export const moment = () =>
  text().test('moment', '${path} is not a moment', (value) => value === null || !Number.isNaN(Date.parse(value)))
export const interval = () => tuple([amount(), amount()]).strict().required()
/** What the caller gave, or the database keeps, whose form is its own affair. */
// eslint-disable-next-line @typescript-eslint/no-empty-object-type -- Yup's own word for all but null and undefined.
export const anything = <Value extends {} = {}>() => mixed<Value>().defined()
export const page = <Value>(item: ISchema<Value, AnyObject>) =>
  object({ items: listOf(item), next: id().nullable() })
    .strict()
    .noUnknown()
    .required()
/** A schema that decides by what it is given: what it reads cannot be inferred, and is said. */
export const deciding = <Value>(schema: unknown) => schema as Schema<Value>

import { array, boolean, mixed, number, object, string, type Schema } from '../yup'

/**
 * Schemas of what the API answers, field by field. They describe the answers to programs, and tests hold every answer
 * against them; nothing is converted.
 */

/** An object with these fields and no others: TypeScript holds their names against the type. */
export function exactly<Reply extends object>(fields: { [Name in keyof Required<Reply>]: Schema }) {
  return object(fields as Record<string, Schema>)
    .strict()
    .noUnknown()
    .required()
}

export const text = () => string().strict().defined()
export const amount = () => number().strict().required()
export const whole = () => number().strict().integer().required()
export const id = () => whole().min(1)
export const yesOrNo = () => boolean().strict().required()
export const oneOf = <Word extends string>(...words: Word[]) => text().oneOf(words)
export const listOf = (item: Schema) => array(item).strict().required()
/** A date and time in the ISO 8601 format. */
export const moment = () =>
  text().test('moment', '${path} is not a moment', (value) => value === null || !Number.isNaN(Date.parse(value)))
export const interval = () => listOf(amount()).length(2)
/** What the caller gave, or the database keeps, whose form is its own affair. */
export const anything = () => mixed().defined()
export const page = (item: Schema) =>
  object({ items: listOf(item), next: id().nullable() })
    .strict()
    .noUnknown()
    .required()

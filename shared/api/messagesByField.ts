import { ValidationError, type Schema } from '../yup'

/**
 * What is wrong with a value, by the path of each field; empty where nothing is. Of several messages of a field the first.
 *
 * @example messagesByField(surveySchema, { name: '' }) // { name: 'Give the survey a name.' }
 */
export function messagesByField(schema: Schema, value: unknown): Record<string, string> {
  try {
    schema.validateSync(value, { abortEarly: false })
    return {}
  } catch (error) {
    if (!(error instanceof ValidationError)) throw error
    const all = error.inner.length > 0 ? error.inner : [error]
    return Object.fromEntries(all.map((each) => [each.path ?? '', each.message]).reverse())
  }
}

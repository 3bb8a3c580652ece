import { string } from 'yup'
import { selectorProblem } from '../core/measurement/elementPath'

/** An element of the page, for an edit. */
export const selectorSchema = string()
  .trim()
  .max(500, 'The selector is longer than 500 characters.')
  .required('Name an element, such as #book or .fare a.')

/** An element whose clicks or submissions are counted: it must be possible to look it up in what was kept. */
export const countedSelectorSchema = selectorSchema.test('counted', (value, context) => {
  const problem = value ? selectorProblem(value) : null
  return problem ? context.createError({ message: problem }) : true
})

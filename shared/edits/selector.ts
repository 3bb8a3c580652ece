import { string } from '../yup'
import { selectorProblem } from '../../core/measurement/elementPath'
import { readabilityProblem } from '../../core/selector/readableSelector'

/** An element of the page, for an edit or an amount: browsers must be able to read it. */
export const selectorSchema = string()
  .trim()
  .max(500, 'The selector is longer than 500 characters.')
  .required('Name an element, such as #book or .fare a.')
  .test('readable', (value, context) => {
    const problem = value ? readabilityProblem(value) : null
    return problem ? context.createError({ message: problem }) : true
  })

/** An element whose clicks or submissions are counted: it must be possible to look it up in what was kept. */
export const countedSelectorSchema = selectorSchema.test('counted', (value, context) => {
  const problem = value ? selectorProblem(value) : null
  return problem ? context.createError({ message: problem }) : true
})

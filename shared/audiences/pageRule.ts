import { boolean, object, string } from '../yup'
import { regexProblem } from '../../core/targeting/regexProblem'

/** Why a value cannot be what a rule of some kind compares with; null for one that can. */
function valueProblem({ match, part }: { match?: unknown; part?: unknown }, value: string): string | null {
  if (match === 'present') return null
  if (value === '') return 'Type an address, such as /crossings/torrin.'
  if (match === 'regex') return regexProblem(value)
  const isOfPath = part === undefined || part === null || part === 'page' || part === 'path'
  const isWhole = match === 'exact' || match === 'begins' || match === 'wildcards'
  return isOfPath && isWhole && !/^[/*]/.test(value)
    ? 'Begin the address with a slash, such as /crossings/torrin.'
    : null
}

/** Which addresses are meant. */
export const pageRuleSchema = object({
  match: string()
    .oneOf(['exact', 'begins', 'contains', 'ends', 'wildcards', 'regex', 'present'] as const)
    .required(),
  part: string()
    .oneOf(['page', 'address', 'host', 'path', 'query', 'parameter', 'fragment'] as const)
    .nullable()
    .default(undefined),
  parameter: string()
    .trim()
    .max(100, 'The parameter is longer than 100 characters.')
    .matches(/^[\w.~-]+$/, 'Name the parameter as it stands in the address, such as from.')
    .nullable()
    .default(undefined)
    .when('part', {
      is: 'parameter',
      then: (schema) => schema.required('Name the parameter, such as from.'),
      otherwise: (schema) => schema.transform(() => null),
    }),
  value: string()
    .trim()
    .default('')
    .max(1000, 'The address is longer than 1,000 characters.')
    .test('value', (value, { parent, createError }) => {
      const message = valueProblem(parent as { match?: unknown; part?: unknown }, value)
      return message === null || createError({ message })
    }),
  isExcluded: boolean().nullable().default(undefined),
  ignoresCase: boolean().nullable().default(undefined),
  isStrictSlash: boolean().nullable().default(undefined),
})

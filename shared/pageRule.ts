import { object, string } from './yup'

/** Which addresses are meant. */
export const pageRuleSchema = object({
  match: string()
    .oneOf(['exact', 'begins', 'contains'] as const)
    .required(),
  value: string()
    .trim()
    .max(1000, 'The address is longer than 1,000 characters.')
    .required('Type an address, such as /crossings/torrin.')
    .when('match', {
      is: 'contains',
      otherwise: (schema) => schema.matches(/^\//, 'Begin the address with a slash, such as /crossings/torrin.'),
    }),
})

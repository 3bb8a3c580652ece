import { number, object, string, type InferType } from '../yup'

/** Another place of a site's pages, such as staging. */
export const environmentSchema = object({
  name: string()
    .trim()
    .max(40, 'The name is longer than 40 characters.')
    .required('Give the environment a name, such as staging.'),
  address: string()
    .trim()
    .required('Type its address, such as https://staging.example.test.')
    .test(
      'address',
      'Type its address with http:// or https://, such as https://staging.example.test.',
      (value) => URL.canParse(value) && /^https?:$/.test(new URL(value).protocol),
    ),
})
export type EnvironmentInput = InferType<typeof environmentSchema>

export const environmentShareSchema = object({
  environment: number().integer().min(1).required('Choose an environment.'),
  share: number()
    .typeError('Type the share in percent.')
    .integer('The share has at most two decimals.')
    .min(0, 'The share is at least 0 %.')
    .max(10_000, 'The share is at most 100 %.')
    .required('Type the share in percent.'),
})

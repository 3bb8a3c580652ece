import { number, object, string } from '../yup'

export const MOST_DEVICES = 50

export const deviceSchema = object({
  name: string().trim().max(60, 'The name is longer than 60 characters.').required('Give the device a name.'),
})

/** What a device shows; nothing for the page as it is. */
export const deviceShowsSchema = object({
  experiment: number()
    .integer('Name the experiment by its number.')
    .min(1, 'Name the experiment by its number.')
    .max(2_147_483_647, 'There is no such experiment.')
    .nullable()
    .default(null),
  variant: string()
    .trim()
    .max(40, 'Choose one of the variants.')
    .nullable()
    .default(null)
    .when('experiment', {
      is: (experiment: unknown) => experiment !== null && experiment !== undefined,
      then: (schema) => schema.required('Choose one of the variants.'),
    }),
})

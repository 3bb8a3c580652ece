import { array, object, string } from '../yup'

export const erasedPersonSchema = object({
  /** Devices that go with all that was done on them. */
  visitors: array(string().max(64).required())
    .max(1000, 'At most 1,000 devices.')
    .required('Say which devices go along.'),
})

import { object, string } from '../yup'

const timeSchema = (what: string) =>
  string()
    .matches(/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}$/, `Say at which day and time it ${what}.`)
    .nullable()
    .default(null)

/** When an experiment starts and ends by itself, by the clock of the site: 2026-11-30T08:00; null for by hand. */
export const scheduleSchema = object({ start: timeSchema('starts'), end: timeSchema('ends') })

import { object, string } from '../yup'

const timeSchema = (what: string) =>
  string()
    .matches(/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}$/, `Say at which day and time it ${what}.`)
    .nullable()
    .default(null)

/** When an experiment starts and ends by itself, by the clock of the site: 2026-11-30T08:00; null for by hand. */
export const scheduleSchema = object({ start: timeSchema('starts'), end: timeSchema('ends') })

/** The schedule of an experiment, in moments. */
export interface Schedule {
  start: string | null
  end: string | null
  /** Why it did not start when it was to; null where nothing went wrong. */
  problem: string | null
}

/** Where the ramp of a running experiment stands; null where there is none, or where it is done. */
export interface RampView {
  /** Which of the steps, from 0 on, and when the next one is due. */
  step: number
  until: string
  /** The share after the last step, of 10,000. */
  final: number
  /** Why the next step was not taken; null where nothing speaks against it. */
  problem: string | null
}

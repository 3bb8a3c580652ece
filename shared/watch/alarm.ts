import { boolean, number, object, string, type InferType } from '../yup'

/** What somebody says who takes an alarm on. */
export const alarmSchema = object({
  word: string()
    .trim()
    .max(500, 'This is longer than 500 characters.')
    .required('Say what you know or do, in a few words.'),
}).noUnknown()
export type AlarmInput = InferType<typeof alarmSchema>

export const alarmsQuerySchema = object({
  /** Of one experiment alone. */
  experiment: number().integer('Name the experiment by its number.').min(1),
  /** Of one rollout alone. */
  rollout: number().integer('Name the rollout by its number.').min(1),
  /** Only those that are not closed. */
  open: boolean().default(false),
})
export type AlarmsQuery = InferType<typeof alarmsQuerySchema>

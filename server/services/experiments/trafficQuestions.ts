import type { Database } from '../../database/connect'
import { audienceSize } from '../audiences/audienceSize'
import { dryRunPast } from '../audiences/dryRun'
import { lookAtTraffic } from './lookAtTraffic'

/** What goes over the views of many visitors, and is asked in a thread where a person waits for it. */
export const TRAFFIC_QUESTIONS = { audienceSize, dryRunPast, lookAtTraffic }
export type TrafficQuestion = keyof typeof TRAFFIC_QUESTIONS
type ArgsOf<Ask extends TrafficQuestion> =
  Parameters<(typeof TRAFFIC_QUESTIONS)[Ask]> extends [Database, ...infer Rest] ? Rest : never
export type TrafficAnswer<Ask extends TrafficQuestion> = Awaited<ReturnType<(typeof TRAFFIC_QUESTIONS)[Ask]>>

export interface TrafficCall<Ask extends TrafficQuestion = TrafficQuestion> {
  ask: Ask
  /** Without the database, which the thread has itself. */
  args: ArgsOf<Ask>
}

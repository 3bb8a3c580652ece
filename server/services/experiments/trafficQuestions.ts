import type { Database } from '../../database/connect'
import { audienceSize } from '../audiences/audienceSize'
import { dryRunPast } from '../audiences/dryRun'
import type { ExperimentSheet } from '../../../shared/experiments/replies'
import { sinceExposureOf } from '../results/sinceExposure'
import { keptTraffic } from './keptTraffic'
import { lookAtTraffic } from './lookAtTraffic'

/** What goes over the views of many visitors, and is asked in a thread where a person waits for it. */
const past = keptTraffic()
export const TRAFFIC_QUESTIONS = {
  audienceSize,
  dryRunPast,
  sinceExposureOf,
  lookAtTraffic: (database: Database, sheet: ExperimentSheet, now: Date) => lookAtTraffic(database, sheet, now, past),
}
export type TrafficQuestion = keyof typeof TRAFFIC_QUESTIONS
type ArgsOf<Ask extends TrafficQuestion> =
  Parameters<(typeof TRAFFIC_QUESTIONS)[Ask]> extends [Database, ...infer Rest] ? Rest : never
export type TrafficAnswer<Ask extends TrafficQuestion> = Awaited<ReturnType<(typeof TRAFFIC_QUESTIONS)[Ask]>>

export interface TrafficCall<Ask extends TrafficQuestion = TrafficQuestion> {
  ask: Ask
  /** Without the database, which the thread has itself. */
  args: ArgsOf<Ask>
}

import { Tinypool } from 'tinypool'
import { connect } from '../database/connect'
import { TRAFFIC_QUESTIONS, type TrafficCall } from '../services/experiments/trafficQuestions'
import { replyOf, type ThreadReply } from '../services/threadReply'

/** A thread that goes over the views of many visitors. */
const { databaseUrl } = Tinypool.workerData as { databaseUrl: string }
const database = connect(databaseUrl, 2)

export default function answer({ ask, args }: TrafficCall): Promise<ThreadReply> {
  const question = TRAFFIC_QUESTIONS[ask] as (...all: unknown[]) => Promise<unknown>
  return replyOf(() => question(database, ...args))
}

import { useRuntimeConfig } from '#imports'
import type { H3Event } from 'h3'
import { openTrafficThreads, type AskTraffic } from '../services/experiments/askTraffic'
import { threadFile } from './deliveryFile'

let opened: AskTraffic | undefined

/** Asks about past traffic, for as long as whoever has sent a request waits for the answer. */
export function trafficFor(event: H3Event): AskTraffic {
  opened ??= openTrafficThreads(threadFile('traffic'), useRuntimeConfig().databaseUrl)
  const ask = opened
  const gone = new AbortController()
  event.node.res.once('close', () => gone.abort())
  return (question, args) => ask(question, args, gone.signal)
}

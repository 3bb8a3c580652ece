import { useRuntimeConfig } from '#imports'
import type { H3Event } from 'h3'
import { openTrafficThreads, type AskTraffic } from '../services/experiments/askTraffic'
import { threadFile } from './deliveryFile'

let opened: AskTraffic | undefined

/** Asks about past traffic though nobody may wait for the answer, which is kept. */
export function trafficForAll(): AskTraffic {
  opened ??= openTrafficThreads(threadFile('traffic'), useRuntimeConfig().databaseUrl)
  return opened
}

/** Asks about past traffic, for as long as whoever has sent a request waits for the answer. */
export function trafficFor(event: H3Event): AskTraffic {
  const ask = trafficForAll()
  const gone = new AbortController()
  event.node.res.once('close', () => gone.abort())
  return (question, args) => ask(question, args, gone.signal)
}

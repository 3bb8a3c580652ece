import { useRuntimeConfig } from '#imports'
import { createEventStream, type H3Event } from 'h3'
import type { Arrived } from '../../shared/evidence/live'
import { database } from '../database/database'
import { isDatabaseAway } from '../database/isDatabaseAway'
import { hashNetwork } from '../intake/hashNetwork'
import { readUserAgent } from '../intake/userAgent'
import { sharedTails } from '../news/tail'
import { followArrivals, followRefusals, type OwnBrowser } from '../services/evidence/liveArrivals'
import { takeStream } from './openStreams'
import { sourceAddress, userAgentOf } from './requestOrigin'

const EVERY = 1000
/** Then the browser connects anew, and whether it may listen is looked at again. */
const LONGEST = 10 * 60_000

const listenTo = sharedTails<Arrived>(EVERY, (error) => {
  if (!isDatabaseAway(error)) console.error(error)
})

/**
 * Answers with what arrives at a site, as it arrives (server-sent events).
 *
 * @param isOwn - whether only what comes from the browser and network of whoever asks is told
 * @param person - whoever is signed in; null for programs
 */
export async function streamArrivals(
  event: H3Event,
  siteId: number,
  isOwn: boolean,
  person: number | null,
): Promise<void> {
  const own = isOwn ? ownBrowser(event) : null
  const giveBack = takeStream(siteId, person)
  const stream = createEventStream(event)
  const key = [siteId, own?.network, own?.browser].join(' ')
  const stop = listenTo(
    key,
    () => follow(siteId, own),
    (arrived) => {
      void stream.push(arrived.length === 0 ? { event: 'beat', data: '' } : { data: JSON.stringify(arrived) })
    },
  )
  const end = setTimeout(() => void stream.close(), LONGEST)
  stream.onClosed(() => {
    stop()
    giveBack()
    clearTimeout(end)
  })
  void stream.push({ event: 'beat', data: '' })
  await stream.send()
}

function ownBrowser(event: H3Event): OwnBrowser {
  return {
    network: hashNetwork(useRuntimeConfig().sessionPassword, sourceAddress(event), new Date()),
    browser: readUserAgent(userAgentOf(event)).browser,
  }
}

function follow(siteId: number, own: OwnBrowser | null): () => Promise<Arrived[]> {
  const pool = database().$client
  const followed = [followArrivals(pool, siteId, own), followRefusals(pool, siteId)]
  return async () => (await Promise.all(followed.map((next) => next()))).flat()
}

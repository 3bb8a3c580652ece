import { useRuntimeConfig } from '#imports'
import { createEventStream, type H3Event } from 'h3'
import { database } from '../database/database'
import { isDatabaseAway } from '../database/isDatabaseAway'
import { hashNetwork } from '../intake/hashNetwork'
import { readUserAgent } from '../intake/userAgent'
import { followArrivals, followRefusals } from '../services/evidence/liveArrivals'
import { sourceAddress, userAgentOf } from './requestOrigin'

const EVERY = 1000
/** Then the browser connects anew, and whether it may listen is looked at again. */
const LONGEST = 10 * 60_000

/**
 * Answers with what arrives at a site, as it arrives (server-sent events).
 *
 * @param isOwn - whether only what comes from the browser and network of whoever asks is told
 */
export async function streamArrivals(event: H3Event, siteId: number, isOwn: boolean): Promise<void> {
  const stream = createEventStream(event)
  const own = isOwn
    ? {
        network: hashNetwork(useRuntimeConfig().sessionPassword, sourceAddress(event), new Date()),
        browser: readUserAgent(userAgentOf(event)).browser,
      }
    : null
  const pool = database().$client
  const followed = [followArrivals(pool, siteId, own), followRefusals(pool, siteId)]
  let isOpen = true
  const end = setTimeout(() => void stream.close(), LONGEST)
  stream.onClosed(() => {
    isOpen = false
    clearTimeout(end)
  })
  const tell = async () => {
    const news = await Promise.all(followed.map((next) => next())).catch((error: unknown) => {
      if (!isDatabaseAway(error)) console.error(error)
      return []
    })
    if (!isOpen) return
    const arrived = news.flat()
    await stream.push(arrived.length === 0 ? { event: 'beat', data: '' } : { data: JSON.stringify(arrived) })
    setTimeout(() => void tell(), EVERY)
  }
  void tell()
  await stream.send()
}

import { createEventStream, type H3Event } from 'h3'
import { takeStream } from './openStreams'
import { subscribe } from '../news/subscribe'

/** Keeps proxies from closing the stream. */
const BEAT = 25_000
/** Then the browser connects anew, and whether it may listen is looked at again. */
const LONGEST = 10 * 60_000

/** Answers with the news of a site as they come (server-sent events). */
export async function streamNews(event: H3Event, siteId: number, person: number | null): Promise<void> {
  const giveBack = takeStream(siteId, person)
  const stream = createEventStream(event)
  const unsubscribe = subscribe(siteId, (news) => void stream.push(JSON.stringify(news)))
  const beat = setInterval(() => void stream.push({ event: 'beat', data: '' }), BEAT)
  const end = setTimeout(() => void stream.close(), LONGEST)
  stream.onClosed(() => {
    unsubscribe()
    giveBack()
    clearInterval(beat)
    clearTimeout(end)
  })
  void stream.push({ event: 'beat', data: '' })
  await stream.send()
}

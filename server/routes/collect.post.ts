import type { CollectReply } from '~~/shared/delivery/replies'
import { defineEventHandler, getHeader, setHeader, setResponseHeader, type H3Event } from 'h3'
import { database } from '~~/server/database/database'
import { collect } from '~~/server/intake/collect'
import { intakePorts, noteRefusals } from '~~/server/intake/ports'
import { visitorCookie } from '~~/server/intake/visitorCookie'
import { answerRefusal } from '~~/server/http/answerRefusal'
import type { Problem } from '~~/server/http/answerProblem'
import { readLimited } from '~~/server/http/readLimited'
import { isEncrypted, sourceAddress, userAgentOf } from '~~/server/http/requestOrigin'
import { noteWork } from '~~/server/processes/ownBeat'
import { noteFirstReport } from '~~/server/services/sites/sites'
import { LARGEST_BATCH } from '~~/shared/intake/collect'

/** Access: anyone; see the operation `collect`. Origin and content are checked by intake. */
export default defineEventHandler(async (event): Promise<CollectReply | Problem> => {
  const origin = getHeader(event, 'origin') ?? null
  // Whether the origin may send is decided below; this only lets the page read the answer.
  if (origin) setHeader(event, 'access-control-allow-origin', origin)
  setHeader(event, 'vary', 'origin')
  setResponseHeader(event, 'cache-control', 'no-store')
  // Not by the clock, which may be set meanwhile.
  const began = performance.now()
  try {
    const request = {
      body: await readLimited(event, LARGEST_BATCH),
      origin,
      address: sourceAddress(event),
      userAgent: userAgentOf(event),
      receivedAt: new Date(),
    }
    const { site, reply, visitor } = await collect(request, await intakePorts())
    noteWork(performance.now() - began)
    if (reply.accepted > 0 && !site.hasReported) await noteFirstReport(database(), site.id)
    noteRefusals(site.id, reply.refused, request.receivedAt)
    if (visitor && isSameOrigin(event)) setHeader(event, 'set-cookie', visitorCookie(visitor, isEncrypted(event)))
    return reply
  } catch (error) {
    return answerRefusal(event, error)
  }
})

/** The page has called a path of its own site that hands on to Vetch: then a cookie is the site's own. */
function isSameOrigin(event: H3Event): boolean {
  return getHeader(event, 'sec-fetch-site') === 'same-origin'
}

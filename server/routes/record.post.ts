import { defineEventHandler, getHeader, getQuery, setHeader } from 'h3'
import { recordingPorts } from '~~/server/intake/recordings/ports'
import { takeChunk } from '~~/server/intake/recordings/takeChunk'
import type { Problem } from '~~/server/http/answerProblem'
import { answerRefusal } from '~~/server/http/answerRefusal'
import { readLimitedBytes } from '~~/server/http/readLimited'
import { sourceAddress, userAgentOf } from '~~/server/http/requestOrigin'
import { LARGEST_CHUNK } from '~~/shared/intake/record'

/** Access: anyone; see the operation `record`. Key, origin and content are checked by intake, in this order. */
export default defineEventHandler(async (event): Promise<{ kept: boolean } | Problem> => {
  const origin = getHeader(event, 'origin') ?? null
  if (origin) setHeader(event, 'access-control-allow-origin', origin)
  setHeader(event, 'vary', 'origin')
  setHeader(event, 'cache-control', 'no-store')
  const request = {
    key: String(getQuery(event).key ?? ''),
    // Whoever does not say how much comes may bring the most.
    announced: Number(getHeader(event, 'content-length') ?? LARGEST_CHUNK) || 0,
    body: () => readLimitedBytes(event, LARGEST_CHUNK),
    origin,
    address: sourceAddress(event),
    userAgent: userAgentOf(event),
    receivedAt: new Date(),
  }
  try {
    return { kept: (await takeChunk(request, await recordingPorts())).isKept }
  } catch (error) {
    return answerRefusal(event, error)
  }
})

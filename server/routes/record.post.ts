import { defineEventHandler, getHeader, setHeader } from 'h3'
import { intakePorts } from '~~/server/intake/ports'
import { takeChunk } from '~~/server/intake/takeChunk'
import { writeChunk } from '~~/server/intake/writeChunk'
import { database } from '~~/server/database/database'
import type { Problem } from '~~/server/http/answerProblem'
import { answerRefusal } from '~~/server/http/answerRefusal'
import { readLimitedBytes } from '~~/server/http/readLimited'
import { userAgentOf } from '~~/server/http/requestOrigin'
import { LARGEST_CHUNK } from '~~/shared/intake/record'

/** Access: anyone; see the operation `record`. Origin and content are checked by intake. */
export default defineEventHandler(async (event): Promise<{ kept: boolean } | Problem> => {
  const origin = getHeader(event, 'origin') ?? null
  if (origin) setHeader(event, 'access-control-allow-origin', origin)
  setHeader(event, 'vary', 'origin')
  setHeader(event, 'cache-control', 'no-store')
  try {
    const body = await readLimitedBytes(event, LARGEST_CHUNK)
    const request = { body, origin, userAgent: userAgentOf(event), receivedAt: new Date() }
    const ports = await intakePorts()
    const write = (chunk: Parameters<typeof writeChunk>[1]) => writeChunk(database().$client, chunk)
    return { kept: (await takeChunk(request, { ...ports, write })).isKept }
  } catch (error) {
    return answerRefusal(event, error)
  }
})

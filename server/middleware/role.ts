import { useRuntimeConfig } from '#imports'
import { createError, defineEventHandler } from 'h3'
import { isOfEdge } from '../gateway/edgeAddresses'

/** Answers only what this process is for: nothing else is to hold it up. `tests/integration/processes.test.ts` holds it. */
export default defineEventHandler((event) => {
  const { role } = useRuntimeConfig()
  if (role === '' || (role === 'edge') === isOfEdge(event.path)) return
  throw createError({ statusCode: 404, message: 'Another process answers this address. Ask by the gateway.' })
})

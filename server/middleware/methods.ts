import { createError, defineEventHandler, setResponseHeader } from 'h3'
import { OPERATIONS } from '~~/shared/api/operations'
import type { Operation } from '~~/shared/api/operation'

/** The methods that each address of the API takes. */
const ADDRESSES = [...methodsByPath()].map(([path, methods]) => ({
  pattern: new RegExp(`^${path.replace(/\{\w+\}/g, '[^/]+')}$`),
  methods,
}))

function methodsByPath(): Map<string, Set<string>> {
  const found = new Map<string, Set<string>>()
  for (const { path, method } of Object.values(OPERATIONS as Record<string, Operation>))
    found.set(path, (found.get(path) ?? new Set()).add(method.toUpperCase()))
  return found
}

/** Refuses a method that an address of the API does not know, which would be answered with the interface. */
export default defineEventHandler((event) => {
  const [path = ''] = event.path.split('?')
  if (!path.startsWith('/api/')) return
  const known = ADDRESSES.filter(({ pattern }) => pattern.test(path)).flatMap(({ methods }) => [...methods])
  const method = event.method === 'HEAD' ? 'GET' : event.method
  if (known.length === 0 || known.includes(method)) return
  setResponseHeader(event, 'allow', known.join(', '))
  throw createError({ statusCode: 405, message: `${path} takes ${known.join(', ')}, not ${event.method}.` })
})

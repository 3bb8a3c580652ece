import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http'
import { setTimeout as wait } from 'node:timers/promises'
import { Readable } from 'node:stream'
import { createProxyServer } from 'httpxy'
import { clientAddress, isFromProxy, type Network } from '../http/clientAddress'
import { largestBody } from '../http/largestBody'
import { isOfEdge } from './edgeAddresses'
import { isListening } from './isListening'

export interface GatewayOptions {
  /** Origins of the processes that answer customers' pages. */
  edges: readonly string[]
  /** Origins of those that answer everybody else. */
  webs: readonly string[]
  /** Networks of proxies before the gateway whose word is taken. */
  trusted: readonly Network[]
}

/** For how long what is asked waits for a process that is started again. */
const LONGEST_WAIT = 5000
const BETWEEN_TRIES = 50
/** Streams of news say something more often than this. */
const LONGEST_SILENCE = 120_000
/** Bytes of all bodies together that do not say how long they are: browsers send none of these. */
const MOST_HELD = 32 * 1024 * 1024

/**
 * The one that listens for all: hands on what customers' pages ask to the edge and the rest to the web processes, with
 * the address that a request came from. What asks for something while a process is started again waits for it.
 */
export function createGateway({ edges, webs, trusted }: GatewayOptions): Server {
  const proxy = createProxyServer({ proxyTimeout: LONGEST_SILENCE })
  const bound = boundedBodies()
  const nextOf = { edge: turns(edges), web: turns(webs) }

  async function handOn(request: IncomingMessage, response: ServerResponse): Promise<void> {
    sayWhoAsks(request, trusted)
    const next = nextOf[isOfEdge(request.url ?? '') ? 'edge' : 'web']
    const target = next()
    const body = await bound(request, largestBody(request.url ?? '')).catch(() => null)
    if (body === null) return refuseBody(response)
    try {
      await proxy.web(request, response, { target, buffer: body })
    } catch (error) {
      // What is asked without a body can be asked again; of the rest some may have gone out.
      const other = isAskedAgain(request, error) ? await firstToListen(target, next) : null
      if (response.headersSent || response.destroyed) return void response.destroy()
      if (!other) return answerAway(response)
      await proxy.web(request, response, { target: other }).catch(() => answerAway(response))
    }
  }

  return createServer((request, response) => void handOn(request, response))
}

/**
 * The body of a request, of which it is known that it is not too long: a process that refuses to read on would break
 * the connection, and its answer would be lost.
 *
 * @returns undefined for one that says how long it is, and comes as it comes; null for one that is too long
 */
function boundedBodies(): (request: IncomingMessage, most: number) => Promise<Readable | undefined | null> {
  let held = 0
  return async (request, most) => {
    const { headers } = request
    if (Number(headers['content-length'] ?? 0) > most) return null
    if (headers['transfer-encoding'] === undefined) return undefined
    const chunks: Buffer[] = []
    let size = 0
    try {
      for await (const chunk of request.iterator({ destroyOnReturn: false })) {
        const { length } = chunk as Buffer
        size += length
        held += length
        if (size > most || held > MOST_HELD) return null
        chunks.push(chunk as Buffer)
      }
    } finally {
      held -= size
    }
    delete headers['transfer-encoding']
    headers['content-length'] = String(size)
    return Readable.from(chunks, { objectMode: false })
  }
}

function refuseBody(response: ServerResponse): void {
  const message = 'The body is too large. Send less at once.'
  response
    .writeHead(413, { 'content-type': 'application/json', connection: 'close', 'access-control-allow-origin': '*' })
    .end(JSON.stringify({ message }))
}

function turns(origins: readonly string[]): () => string {
  let turn = 0
  return () => origins[turn++ % origins.length]!
}

/** Another process of the kind, or the same once it is there again; null where that takes too long. */
async function firstToListen(gone: string, next: () => string): Promise<string | null> {
  for (const deadline = Date.now() + LONGEST_WAIT; Date.now() < deadline; await wait(BETWEEN_TRIES)) {
    const other = next()
    if (other !== gone && (await isListening(other))) return other
    if (await isListening(gone)) return gone
  }
  return null
}

function isAskedAgain({ method }: IncomingMessage, error: unknown): boolean {
  const code = error instanceof Error && 'code' in error ? error.code : ''
  return (method === 'GET' || method === 'HEAD') && (code === 'ECONNREFUSED' || code === 'ECONNRESET')
}

/** What the sender says of itself goes no further: only what is believed does. */
function sayWhoAsks(request: IncomingMessage, trusted: readonly Network[]): void {
  const { headers } = request
  const isTold = isFromProxy(request, trusted)
  headers['x-forwarded-for'] = clientAddress(request, trusted)
  headers['x-forwarded-proto'] = (isTold && oneOf(headers['x-forwarded-proto'])) || 'http'
  const host = (isTold && oneOf(headers['x-forwarded-host'])) || headers.host
  if (host) headers['x-forwarded-host'] = host
}

function oneOf(header: string | string[] | undefined): string | undefined {
  return Array.isArray(header) ? header[0] : header
}

function answerAway(response: ServerResponse): void {
  if (response.headersSent) return void response.destroy()
  response.writeHead(503, {
    'content-type': 'application/json',
    'retry-after': '1',
    // Whether this origin may send is decided by whoever answers next time; the page has to see that it failed.
    'access-control-allow-origin': '*',
  })
  response.end(JSON.stringify({ message: 'Vetch is being started again. Try again in a second.' }))
}

import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http'
import { setTimeout as wait } from 'node:timers/promises'
import { createProxyServer } from 'httpxy'
import { clientAddress, isFromProxy, type Network } from '../http/clientAddress'
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

/**
 * The one that listens for all: hands on what customers' pages ask to the edge and the rest to the web processes, with
 * the address that a request came from. What asks for something while a process is started again waits for it.
 */
export function createGateway({ edges, webs, trusted }: GatewayOptions): Server {
  const proxy = createProxyServer({ proxyTimeout: LONGEST_SILENCE })
  const nextOf = { edge: turns(edges), web: turns(webs) }

  async function handOn(request: IncomingMessage, response: ServerResponse): Promise<void> {
    sayWhoAsks(request, trusted)
    const next = nextOf[isOfEdge(request.url ?? '') ? 'edge' : 'web']
    const target = next()
    try {
      await proxy.web(request, response, { target })
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
  response.end(JSON.stringify({ statusCode: 503, message: 'Vetch is being started again. Try again in a second.' }))
}

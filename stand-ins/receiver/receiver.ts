import { timingSafeEqual } from 'node:crypto'
import { createServer, type IncomingMessage } from 'node:http'
import { signatureOf } from '../../server/services/webhooks/signature'
import { receiverPage } from './receiverPage'

/** A message that came, with what was found of it. */
export interface ReceivedMessage {
  at: string
  kind: string
  delivery: string
  body: string
  /** Whether it was signed with a secret that is known here, within the last five minutes. */
  isGenuine: boolean
  /** What it was answered with. */
  status: number
}

export interface Receiver {
  /** Where messages go. */
  address: string
  /** The latest first. */
  messages: () => readonly ReceivedMessage[]
  /** Answers with another status from now on. */
  answerWith: (status: number) => void
  close: () => Promise<void>
}

interface ReceiverOptions {
  port: number
  /** With which messages may be signed; more are typed on its page. */
  secrets: readonly string[]
  /** In ms since 1970. */
  clock?: () => number
}

const MOST_MESSAGES = 200
const LARGEST = 256 * 1024
const OLDEST_SECONDS = 300
const STATUSES = [200, 410, 500]

/** Stands in for a program that is told of what happens: checks each message, shows it, and answers as it is told to. */
export async function openReceiver({ port, secrets, clock = Date.now }: ReceiverOptions): Promise<Receiver> {
  const messages: ReceivedMessage[] = []
  const known = new Set(secrets)
  let status = 200
  const server = createServer((request, reply) => {
    reply.setHeader('cache-control', 'no-store')
    // A page of elsewhere that leads its own name here is to read nothing.
    if (!/^(127\.0\.0\.1|localhost):\d+$/.test(request.headers.host ?? '')) return void reply.writeHead(403).end()
    reply.setHeader('content-security-policy', "default-src 'none'; style-src 'unsafe-inline'; form-action 'self'")
    answer(request).then(
      ({ code, type, text, to }) =>
        reply.writeHead(code, { 'content-type': type, ...(to ? { location: to } : {}) }).end(text),
      () => reply.writeHead(400).end(),
    )
  })

  async function answer(request: IncomingMessage): Promise<{ code: number; type: string; text: string; to?: string }> {
    const html = 'text/html; charset=utf-8'
    if (request.method !== 'POST') return { code: 200, type: html, text: receiverPage(messages, status) }
    const body = await bodyOf(request)
    if (request.url === '/settings') {
      const form = new URLSearchParams(body)
      if (form.get('secret')) known.add(form.get('secret')!.trim())
      const wanted = Number(form.get('status'))
      if (STATUSES.includes(wanted)) status = wanted
      return { code: 303, type: html, text: '', to: '/' }
    }
    const header = (name: string) => String(request.headers[name] ?? '')
    const signed = { time: header('vetch-time'), signature: header('vetch-signature'), body }
    const isGenuine = isSigned(known, signed, clock())
    const at = new Date(clock()).toISOString()
    messages.unshift({ at, kind: header('vetch-kind'), delivery: header('vetch-delivery'), body, isGenuine, status })
    messages.splice(MOST_MESSAGES)
    return { code: status, type: 'text/plain', text: status === 200 ? 'taken' : 'not taken' }
  }

  await new Promise<void>((started, failed) => {
    server.once('error', failed)
    server.listen(port, '127.0.0.1', () => started())
  })
  return {
    address: `http://127.0.0.1:${port}`,
    messages: () => messages,
    answerWith: (wanted) => (status = wanted),
    close: async () => {
      server.closeAllConnections()
      await new Promise((closed) => server.close(closed))
    },
  }
}

function isSigned(
  secrets: ReadonlySet<string>,
  { time, signature, body }: { time: string; signature: string; body: string },
  now: number,
): boolean {
  const seconds = Number(time)
  if (!(Math.abs(now / 1000 - seconds) < OLDEST_SECONDS)) return false
  const given = Buffer.from(signature)
  return [...secrets].some((secret) => {
    const own = Buffer.from(signatureOf(secret, seconds, body))
    return own.length === given.length && timingSafeEqual(own, given)
  })
}

async function bodyOf(request: IncomingMessage): Promise<string> {
  const parts: Buffer[] = []
  let size = 0
  for await (const part of request as AsyncIterable<Buffer>) {
    size += part.length
    if (size > LARGEST) throw new RangeError('The message is too large.')
    parts.push(part)
  }
  return Buffer.concat(parts).toString('utf8')
}

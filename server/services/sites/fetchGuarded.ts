import { lookup } from 'node:dns/promises'
import { Agent, fetch } from 'undici'
import { HttpProblem } from '../HttpProblem'
import { unreachableBecause, type Reach } from './reach'

const SECONDS = 10
const MOST_REDIRECTS = 5

/** Nobody answered, or nobody may be asked: browsers of visitors may well get an answer. */
export class NotReached extends HttpProblem {
  constructor(message: string) {
    super(422, message)
  }
}

export interface Wanted {
  userAgent: string
  accept: string
  /** What the person reads, as `accept-language` says it. */
  language?: string
  /** Bytes of the answer at most. */
  most: number
  /** What is sent there; then redirects are not followed, since they lead elsewhere than was said. */
  sends?: { headers: Record<string, string>; body: string }
}
export interface Fetched {
  /** Where redirects have led to. */
  address: string
  status: number
  headers: [name: string, value: string][]
  body: Buffer
}

/**
 * Fetches what an address names on behalf of a person, without letting them reach what only this machine can reach.
 *
 * The address is resolved once and the connection goes to the very address that was checked, so that a name cannot point
 * elsewhere in between. Every redirect is checked the same way.
 *
 * @param address - absolute address
 * @param reach - what may lie on private addresses
 * @throws HttpProblem 422 with a sentence for the person: `NotReached` where no server answered
 */
export async function fetchGuarded(address: string, reach: Reach, wanted: Wanted): Promise<Fetched> {
  let current = new URL(address)
  for (let redirects = 0; redirects <= MOST_REDIRECTS; redirects++) {
    const reply = await fetchOnce(current, reach, wanted)
    if (!(reply instanceof URL)) return reply
    current = reply
  }
  throw new HttpProblem(422, `${address} redirects more than ${MOST_REDIRECTS} times.`)
}

async function fetchOnce(
  address: URL,
  reach: Reach,
  { userAgent, accept, language, most, sends }: Wanted,
): Promise<Fetched | URL> {
  if (!/^https?:$/.test(address.protocol)) throw new HttpProblem(422, `${address.href} is not a web address.`)
  const resolved = await resolveReachable(address, reach)
  const agent = new Agent({
    connect: {
      lookup: (_name, options, done) =>
        options.all ? done(null, [resolved]) : done(null, resolved.address, resolved.family),
    },
  })
  try {
    const reply = await fetch(address, {
      dispatcher: agent,
      redirect: 'manual',
      signal: AbortSignal.timeout(SECONDS * 1000),
      method: sends ? 'POST' : 'GET',
      body: sends?.body,
      headers: {
        'user-agent': userAgent,
        accept,
        ...(language ? { 'accept-language': language } : {}),
        ...sends?.headers,
      },
    })
    const target = sends ? null : reply.headers.get('location')
    if (reply.status >= 300 && reply.status < 400 && target) return new URL(target, address)
    const body = await (sends ? readBeginning(reply.body, most) : readLimited(reply.body, address, most))
    return { address: address.href, status: reply.status, headers: [...reply.headers], body }
  } catch (error) {
    if (error instanceof HttpProblem) throw error
    const why =
      error instanceof Error && error.name === 'TimeoutError'
        ? `did not answer within ${SECONDS} seconds`
        : 'cannot be reached'
    throw new NotReached(`${address.href} ${why}. Check the address and that the site is up.`)
  } finally {
    await agent.destroy()
  }
}

/**
 * Refuses an address that may not be reached.
 *
 * @throws HttpProblem 422 with a sentence for the person
 */
export async function refuseUnreachable(address: URL, reach: Reach): Promise<void> {
  await resolveReachable(address, reach)
}

async function resolveReachable(address: URL, reach: Reach): Promise<{ address: string; family: number }> {
  const host = address.hostname.replace(/^\[|\]$/g, '')
  const resolved = await lookup(host).catch(() => {
    throw new NotReached(`${address.hostname} is not known to the name service. Check the address.`)
  })
  const why = unreachableBecause(address, resolved.address, reach)
  if (why !== null) throw new NotReached(why)
  return resolved
}

/** What is sent was taken, however much is said to it: the rest of the answer is not waited for. */
async function readBeginning(body: AsyncIterable<Uint8Array> | null, most: number): Promise<Buffer> {
  const chunks: Uint8Array[] = []
  let size = 0
  for await (const chunk of body ?? []) {
    chunks.push(chunk)
    size += chunk.length
    if (size >= most) break
  }
  return Buffer.concat(chunks).subarray(0, most)
}

async function readLimited(body: AsyncIterable<Uint8Array> | null, address: URL, most: number): Promise<Buffer> {
  const chunks: Uint8Array[] = []
  let size = 0
  for await (const chunk of body ?? []) {
    size += chunk.length
    if (size > most) throw new HttpProblem(422, `${address.href} is larger than ${most / 1024 / 1024} MB.`)
    chunks.push(chunk)
  }
  return Buffer.concat(chunks)
}

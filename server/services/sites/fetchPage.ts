import { fetch } from 'undici'
import { HttpProblem } from '../HttpProblem'
import { guardedAgent } from './guardedAgent'

const LARGEST_PAGE = 2 * 1024 * 1024
const SECONDS = 10
const MOST_REDIRECTS = 5

/**
 * Fetches a page on behalf of a person, without letting them reach what only this machine can reach. Every redirect is
 * checked the same way.
 *
 * @param address - absolute address of the page
 * @param trustedOrigins - origins that may lie on private addresses (the demo site)
 * @throws HttpProblem with a sentence for the person
 */
export async function fetchPage(
  address: string,
  trustedOrigins: readonly string[],
): Promise<{ address: string; html: string }> {
  let current = new URL(address)
  for (let redirects = 0; redirects <= MOST_REDIRECTS; redirects++) {
    const reply = await fetchOnce(current, trustedOrigins)
    if (typeof reply === 'string') return { address: current.href, html: reply }
    current = reply
  }
  throw new HttpProblem(422, `${address} redirects more than ${MOST_REDIRECTS} times.`)
}

async function fetchOnce(address: URL, trustedOrigins: readonly string[]): Promise<string | URL> {
  const agent = await guardedAgent(address, trustedOrigins)
  try {
    const reply = await fetch(address, {
      dispatcher: agent,
      redirect: 'manual',
      signal: AbortSignal.timeout(SECONDS * 1000),
      headers: { 'user-agent': 'Vetch installation check', accept: 'text/html' },
    })
    const target = reply.headers.get('location')
    if (reply.status >= 300 && reply.status < 400 && target) return new URL(target, address)
    if (!reply.ok)
      throw new HttpProblem(422, `${address.href} answered with status ${reply.status}. Check the address.`)
    return await readLimited(reply.body, address)
  } catch (error) {
    if (error instanceof HttpProblem) throw error
    const why =
      error instanceof Error && error.name === 'TimeoutError'
        ? `did not answer within ${SECONDS} seconds`
        : 'cannot be reached'
    throw new HttpProblem(422, `${address.href} ${why}. Check the address and that the site is up.`)
  } finally {
    await agent.destroy()
  }
}

async function readLimited(body: AsyncIterable<Uint8Array> | null, address: URL): Promise<string> {
  const chunks: Uint8Array[] = []
  let size = 0
  for await (const chunk of body ?? []) {
    size += chunk.length
    if (size > LARGEST_PAGE)
      throw new HttpProblem(422, `${address.href} is larger than ${LARGEST_PAGE / 1024 / 1024} MB.`)
    chunks.push(chunk)
  }
  return Buffer.concat(chunks).toString('utf8')
}

import { lookup } from 'node:dns/promises'
import ipaddr from 'ipaddr.js'
import { Agent } from 'undici'
import { HttpProblem } from '../HttpProblem'

/**
 * A way to what an address names, without letting anybody reach what only this machine can reach: the address is
 * resolved once and the connection goes to the very address that was checked, so that a name cannot point elsewhere in
 * between.
 *
 * @param trustedOrigins - origins that may lie on private addresses (the demo site)
 * @throws HttpProblem 422 with a sentence for the person
 */
export async function guardedAgent(address: URL, trustedOrigins: readonly string[]): Promise<Agent> {
  if (!/^https?:$/.test(address.protocol)) throw new HttpProblem(422, `${address.href} is not a web address.`)
  const resolved = await resolvePublic(address, trustedOrigins)
  return new Agent({
    connect: {
      lookup: (_name, options, done) =>
        options.all ? done(null, [resolved]) : done(null, resolved.address, resolved.family),
    },
  })
}

async function resolvePublic(
  address: URL,
  trustedOrigins: readonly string[],
): Promise<{ address: string; family: number }> {
  const host = address.hostname.replace(/^\[|\]$/g, '')
  const resolved = await lookup(host).catch(() => {
    throw new HttpProblem(422, `${address.hostname} is not known to the name service. Check the address.`)
  })
  const isPublic = ipaddr.process(resolved.address).range() === 'unicast'
  if (!isPublic && !trustedOrigins.includes(address.origin)) {
    throw new HttpProblem(422, `${address.hostname} lies in a private network, which Vetch does not fetch pages from.`)
  }
  return resolved
}

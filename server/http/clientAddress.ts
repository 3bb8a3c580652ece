import type { IncomingMessage } from 'node:http'
import ipaddr from 'ipaddr.js'

/** Of a request, what is looked at. */
type Asking = Pick<IncomingMessage, 'headers'> & { socket: Pick<IncomingMessage['socket'], 'remoteAddress'> }

/**
 * The address that a request comes from. What proxies add is believed only of the configured ones, from the last of
 * them backward: everything before is what the client says of itself.
 *
 * @param trusted - networks of the proxies
 */
export function clientAddress(request: Asking, trusted: readonly Network[]): string {
  const hops = [...String(request.headers['x-forwarded-for'] ?? '').split(','), request.socket.remoteAddress ?? ''].map(
    (hop) => normalAddress(hop),
  )
  for (let index = hops.length - 1; index > 0; index--) {
    const hop = hops[index]!
    if (!hop || !isInNetworks(hop, trusted) || !hops[index - 1]) return hop ?? 'unknown'
  }
  return hops[0] ?? 'unknown'
}

/** Whether the request came by way of a proxy that may be believed. */
export function isFromProxy(request: Asking, trusted: readonly Network[]): boolean {
  const own = normalAddress(request.socket.remoteAddress ?? '')
  return own !== null && isInNetworks(own, trusted)
}

export type Network = [ipaddr.IPv4 | ipaddr.IPv6, number]

/** Networks from texts such as 10.0.0.0/8 or 192.0.2.7; what is none is left out. */
export function parseNetworks(texts: readonly string[]): Network[] {
  return texts.flatMap((text): Network[] => {
    const trimmed = text.trim()
    if (ipaddr.isValidCIDR(trimmed)) return [ipaddr.parseCIDR(trimmed)]
    if (!ipaddr.isValid(trimmed)) return []
    const address = ipaddr.process(trimmed)
    return [[address, address.kind() === 'ipv4' ? 32 : 128]]
  })
}

export function isInNetworks(address: string, networks: readonly Network[]): boolean {
  if (networks.length === 0 || !ipaddr.isValid(address)) return false
  const parsed = ipaddr.process(address)
  return networks.some(([base, bits]) => parsed.kind() === base.kind() && parsed.match(base, bits))
}

function normalAddress(text: string): string | null {
  const trimmed = text.trim()
  return ipaddr.isValid(trimmed) ? ipaddr.process(trimmed).toString() : null
}

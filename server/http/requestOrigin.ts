import { useRuntimeConfig } from '#imports'
import { getHeader, getRequestURL, type H3Event } from 'h3'
import { clientAddress, isFromProxy, parseNetworks, type Network } from './clientAddress'

let trusted: readonly Network[] | undefined
/** Proxies whose word is taken: read once, for every batch of every visitor asks. */
function trustedProxies(): readonly Network[] {
  trusted ??= parseNetworks(useRuntimeConfig().trustedProxies.split(','))
  return trusted
}

/** The origin under which a browser has called: what a trusted proxy says of it, or what the request itself says. */
export function requestOrigin(event: H3Event): string {
  const forwarded = isFromProxy(event.node.req, trustedProxies())
  if (!forwarded) return getRequestURL(event).origin
  return getRequestURL(event, { xForwardedHost: true, xForwardedProto: true }).origin
}

/** Whether the browser's connection is encrypted, so that cookies can insist on it. */
export function isEncrypted(event: H3Event): boolean {
  return useRuntimeConfig().secureCookies || requestOrigin(event).startsWith('https:')
}

/** The address that a request comes from, as far as it can be believed. */
export function sourceAddress(event: H3Event): string {
  return clientAddress(event.node.req, trustedProxies())
}

export function userAgentOf(event: H3Event): string {
  return getHeader(event, 'user-agent') ?? ''
}

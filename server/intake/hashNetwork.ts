import { createHmac } from 'node:crypto'
import ipaddr from 'ipaddr.js'

/**
 * Tells networks apart for a day, and nothing else: the hash changes every day, and no address can be had from it
 * without the secret. Addresses of version 6 are taken by their network of 64 bits, as one household has.
 */
export function hashNetwork(secret: string, address: string, day: Date): string {
  const salt = createHmac('sha256', secret)
    .update(`network ${day.toISOString().slice(0, 10)}`)
    .digest()
  return createHmac('sha256', salt).update(networkOf(address)).digest('base64url').slice(0, 16)
}

/** What tells sources apart: of version 6 the network of 64 bits, any address of which its owner may take. */
export function networkOf(address: string): string {
  if (!ipaddr.isValid(address)) return address
  const parsed = ipaddr.process(address)
  return parsed.kind() === 'ipv6' ? parsed.toByteArray().slice(0, 8).join('.') : parsed.toString()
}

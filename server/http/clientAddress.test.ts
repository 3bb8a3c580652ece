import { expect, test } from 'vitest'
import { clientAddress, isFromProxy, parseNetworks } from './clientAddress'

const request = (remoteAddress: string, forwarded?: string) => ({
  socket: { remoteAddress },
  headers: forwarded ? { 'x-forwarded-for': forwarded } : {},
})
const proxies = parseNetworks(['10.0.0.0/8', ' 192.0.2.7 ', 'nonsense'])

test('what clients say of themselves is not believed', () => {
  expect(clientAddress(request('203.0.113.9', '198.51.100.1'), proxies)).toBe('203.0.113.9')
  expect(clientAddress(request('10.0.0.1'), [])).toBe('10.0.0.1')
  expect(clientAddress(request('10.0.0.1', '198.51.100.1'), [])).toBe('10.0.0.1')
})

test('what trusted proxies add is believed, from the last of them backward', () => {
  expect(clientAddress(request('10.0.0.1', '203.0.113.9'), proxies)).toBe('203.0.113.9')
  expect(clientAddress(request('10.0.0.1', '203.0.113.9, 192.0.2.7'), proxies)).toBe('203.0.113.9')
  // The first is what a client has made up before it reached the proxy.
  expect(clientAddress(request('::ffff:10.0.0.1', '127.0.0.1, 203.0.113.9'), proxies)).toBe('203.0.113.9')
  expect(clientAddress(request('10.0.0.1', '203.0.113.9, nonsense'), proxies)).toBe('10.0.0.1')
})

test('a request comes from a proxy only where its connection does', () => {
  expect(isFromProxy(request('10.2.3.4'), proxies)).toBe(true)
  expect(isFromProxy(request('203.0.113.9', '10.2.3.4'), proxies)).toBe(false)
})

import { createServer, request as ask, type IncomingMessage, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { text } from 'node:stream/consumers'
import { afterEach, expect, test } from 'vitest'
import { parseNetworks } from '../http/clientAddress'
import { createGateway } from './gateway'

const servers: Server[] = []
afterEach(() => servers.splice(0).forEach((server) => server.close().closeAllConnections()))

async function listen(server: Server, port = 0): Promise<string> {
  servers.push(server)
  await new Promise<void>((started) => server.listen(port, '127.0.0.1', started))
  return `http://127.0.0.1:${(server.address() as AddressInfo).port}`
}

/** A process that says what it was asked. */
const told = (name: string) =>
  createServer(async (request, response) => {
    const { headers, url } = request
    const body = (await text(request)).length
    response.end(
      JSON.stringify({ name, url, body, from: headers['x-forwarded-for'], host: headers['x-forwarded-host'] }),
    )
  })

async function gateway(trusted: string[] = []) {
  const [edge, web] = [await listen(told('edge')), await listen(told('web'))]
  return { edge, url: await listen(createGateway({ edges: [edge], webs: [web], trusted: parseNetworks(trusted) })) }
}

test.each([
  ['/s/KEY.js?x=1', 'edge'],
  ['/collect', 'edge'],
  ['/collect/', 'edge'],
  ['/record?key=KEY', 'edge'],
  ['/recorder.js', 'edge'],
  ['/place?key=KEY', 'edge'],
  ['/pictures/KEY/a.png', 'edge'],
  ['/recordings', 'web'],
  ['/sites/1/place', 'web'],
  ['/api/account', 'web'],
  ['/', 'web'],
])('%s is answered by the %s', async (path, name) => {
  const { url } = await gateway()
  expect(await (await fetch(url + path)).json()).toMatchObject({ name, url: path })
})

test('what a sender says of itself goes no further, unless it is a proxy that is believed', async () => {
  const asked = { headers: { 'x-forwarded-for': '203.0.113.9', 'x-forwarded-host': 'evil.example' } }
  const open = await gateway()
  const host = new URL(open.url).host
  expect(await (await fetch(open.url, asked)).json()).toMatchObject({ from: '127.0.0.1', host })
  const behind = await gateway(['127.0.0.1'])
  expect(await (await fetch(behind.url, asked)).json()).toMatchObject({ from: '203.0.113.9', host: 'evil.example' })
})

/** Sends so many bytes to /collect, with or without saying how many. */
async function send(url: string, bytes: number, saysLength: boolean): Promise<[status: number, answer: string]> {
  return new Promise((answered, fails) => {
    const headers = saysLength ? { 'content-length': bytes } : { 'transfer-encoding': 'chunked' }
    const request = ask(`${url}/collect`, { method: 'POST', headers }, (response: IncomingMessage) => {
      text(response).then((answer) => answered([response.statusCode!, answer]), fails)
    })
    request.once('error', fails)
    request.end(Buffer.alloc(bytes, 65))
  })
}

test('a body that is too long is refused, and one that is not comes whole, whether it says its length or not', async () => {
  const { url } = await gateway()
  for (const saysLength of [true, false]) {
    const [status, answer] = await send(url, 60_000, saysLength)
    expect([status, JSON.parse(answer).body]).toEqual([200, 60_000])
    expect((await send(url, 70_000, saysLength))[0]).toBe(413)
  }
})

test('what is asked without a body waits for a process that is started again; what came with one is told to try again', async () => {
  const gone = createServer()
  const port = Number(new URL(await listen(gone)).port)
  gone.close()
  const own = await listen(createGateway({ edges: [`http://127.0.0.1:${port}`], webs: [], trusted: [] }))
  const waiting = fetch(`${own}/s/KEY.js`)
  const refused = await fetch(`${own}/collect`, { method: 'POST', body: '{}' })
  expect([refused.status, refused.headers.get('access-control-allow-origin')]).toEqual([503, '*'])
  await listen(told('again'), port)
  expect(await (await waiting).json()).toMatchObject({ name: 'again' })
})

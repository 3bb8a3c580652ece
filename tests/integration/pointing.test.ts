import type { PointingSession } from '../../shared/experiments/replies'
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { connect } from '../../server/database/connect'
import { createToken } from '../../server/services/accounts/tokens'
import { createExperiment } from '../../server/services/experiments/experiments'
import { openPointing, readPageCopy, sessionOfPointing } from '../../server/services/experiments/pointing'
import { createSite } from '../../server/services/sites/sites'
import { callerOf, createTeam } from './people'
import { ownStack } from './ownStack'

const { url, databaseUrl } = ownStack()
const database = connect(databaseUrl, 2)
let team: Awaited<ReturnType<typeof createTeam>>
let stranger: Awaited<ReturnType<typeof createTeam>>
let pages: Server
let pagesAddress: string

beforeAll(async () => {
  team = await createTeam(database)
  stranger = await createTeam(database)
  pages = createServer((request, reply) => {
    if (request.url === '/away') return reply.writeHead(302, { location: 'http://127.0.0.1:9/' }).end()
    if (request.url === '/huge') return reply.end('x'.repeat(3 * 1024 * 1024))
    return reply.end('<html><head></head><body><h1>Hi</h1></body></html>')
  })
  await new Promise<void>((listening) => pages.listen(0, '127.0.0.1', listening))
  pagesAddress = `http://127.0.0.1:${(pages.address() as AddressInfo).port}`
})
afterAll(async () => {
  pages.close()
  await database.$client.end()
})

async function pointed() {
  const editor = await callerOf(url, team.emails.editor)
  const { id } = await createExperiment(database, team.site.id, null, 'Pointed')
  const reply = await editor('POST', `/api/sites/${team.site.id}/experiments/${id}/pointing`, { path: '/' })
  return { editor, session: (await reply.json()) as PointingSession }
}
const overlay = async (key: string, token: string) =>
  (await fetch(`${url}/overlay.js?${new URLSearchParams({ key, token }).toString()}`)).status

describe('the token of pointing', () => {
  test('opens the pages of its site alone, and ends with the session of whoever opened it', async () => {
    const { editor, session } = await pointed()
    expect(await overlay(team.site.key, session.token)).toBe(200)
    expect(await overlay(stranger.site.key, session.token)).toBe(403)
    const [expires, id, signature] = session.token.split('.')
    expect(await overlay(team.site.key, `${Number(expires) + 1}.${id}.${signature}`)).toBe(403)
    expect(await overlay(team.site.key, `${expires}.${Number(id) + 1}.${signature}`)).toBe(403)
    expect((await editor('POST', '/api/account/sign-out')).status).toBe(200)
    expect(await overlay(team.site.key, session.token)).toBe(403)
  })

  test('holds for an hour, and opens no preview', () => {
    const now = Date.now()
    const { token } = openPointing(team.site, 7, '/', 'secret', now)
    expect(sessionOfPointing(team.site.key, token, 'secret', now + 59 * 60_000)).toBe(7)
    expect(sessionOfPointing(team.site.key, token, 'secret', now + 61 * 60_000)).toBe(null)
    expect(sessionOfPointing(team.site.key, token, 'another', now)).toBe(null)
    expect(() => openPointing(team.site, 7, '//elsewhere.example/', 'secret', now)).toThrow(RangeError)
  })
})

describe('a copy of a page', () => {
  test('is handed out for a token alone, and keeps to the public part of its own site', async () => {
    const { session } = await pointed()
    expect((await fetch(`${url}/copies/${team.site.key}?token=1.1.x&path=/`)).status).toBe(403)
    expect((await fetch(`${url}/copies/${stranger.site.key}?token=${session.token}&path=/`)).status).toBe(403)
    const reply = await fetch(url + session.copy)
    // The site of the team is made up: no name service knows it.
    expect([reply.status, reply.headers.get('content-security-policy')]).toEqual([
      422,
      expect.stringContaining('sandbox allow-scripts allow-forms'),
    ])
  })

  test('is of a page that may be fetched, small enough, and on its own site', async () => {
    const site = await createSite(database, team.organisationId, null, { address: pagesAddress, name: 'Pages' })
    const copy = (path: string, trusted: string[]) =>
      readPageCopy(database, { key: site.key, token: '1.1.x', path, ownOrigin: 'https://vetch.example' }, trusted, null)
    expect(await copy('/', [pagesAddress])).toContain('<script src="https://vetch.example/overlay.js?')
    await expect(copy('/', [])).rejects.toThrow(/lies on the machine/)
    await expect(copy('/away', [pagesAddress])).rejects.toThrow(/lies on the machine/)
    await expect(copy('/huge', [pagesAddress])).rejects.toThrow(/larger than/)
    await expect(copy('https://other.example/', [pagesAddress])).rejects.toThrow(/its own site/)
  })
})

test('a picture is kept once by what it holds, served to anybody for long, and nothing else is taken', async () => {
  const { token } = await createToken(database, team.site.id, null, 'Pictures', 'edit')
  const upload = (content: Buffer, name = 'pier.png') =>
    fetch(`${url}/api/sites/${team.site.id}/pictures?name=${name}`, {
      method: 'POST',
      body: new Uint8Array(content),
      headers: { 'content-type': 'application/octet-stream', authorization: `Bearer ${token}` },
    })
  const pixel = Buffer.from(
    'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
    'base64',
  )
  const first = await upload(pixel)
  expect(first.status).toBe(200)
  const { address } = (await first.json()) as { address: string }
  const same = (await (await upload(pixel, 'same one.png')).json()) as { address: string }
  expect(same.address).toBe(address.replace(/#.*/, '#same%20one.png'))
  const served = await fetch(new URL(new URL(address).pathname, url))
  expect([served.status, served.headers.get('content-type')]).toEqual([200, 'image/png'])
  expect(served.headers.get('cache-control')).toContain('immutable')
  expect(Buffer.from(await served.arrayBuffer())).toEqual(pixel)
  expect((await fetch(`${url}/pictures/${stranger.site.key}/${address.split('/').at(-1)}`)).status).toBe(404)
  expect((await upload(Buffer.from('<svg onload="go()"></svg>'), 'x.svg')).status).toBe(422)
  expect((await upload(Buffer.alloc(3 * 1024 * 1024))).status).toBe(413)
})

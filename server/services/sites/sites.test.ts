import { createServer, type Server } from 'node:http'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { scriptLine } from '../../../shared/delivery/scriptLine'
import { rememberBriefly } from '../rememberBriefly'
import { unreachableBecause } from './reach'
import { fetchPage } from './fetchPage'
import { inspectInstallation } from './inspectInstallation'

describe('installation', () => {
  const line = scriptLine('https://vetch.example', 'KEY1')
  const failed = (html: string) =>
    inspectInstallation({ html, base: 'https://vetch.example', key: 'KEY1' })
      .filter((finding) => !finding.passed)
      .map((finding) => finding.check)
  test.each<[string, string, string[]]>([
    [
      'as it should be',
      `<html><head><meta charset="utf-8">${line}<script src="/a.js"></script></head><body></body></html>`,
      [],
    ],
    ['missing', '<html><head></head><body></body></html>', ['present']],
    ['only in a comment', `<head><!-- ${line} --></head>`, ['present']],
    ['of another Vetch', `<head>${scriptLine('https://other.example', 'KEY1')}</head>`, ['present']],
    ['with another key', `<head>${scriptLine('https://vetch.example', 'KEY2')}</head>`, ['key']],
    ['in the body', `<head></head><body>${line}</body>`, ['head']],
    ['after other scripts', `<head><script>1</script><script src="/a.js"></script>${line}</head>`, ['first']],
  ])('%s', (_name, html, checks) => expect(failed(html)).toEqual(checks))

  test('by way of a path of the site’s own', () => {
    const html = `<head>${scriptLine('https://a.example/vetch', 'KEY1')}</head>`
    const by = (base: string) => inspectInstallation({ html, base, key: 'KEY1' })
    expect(by('https://a.example/vetch').every(({ passed }) => passed)).toBe(true)
    expect(by('https://a.example')[0]).toMatchObject({ check: 'present', passed: false })
  })
})

describe('fetching for a person', () => {
  let server: Server
  let origin: string
  let redirectTo = ''
  beforeAll(async () => {
    server = createServer((request, response) => {
      if (request.url === '/big') return response.end('x'.repeat(3_000_000))
      if (request.url === '/redirect') return response.writeHead(302, { location: redirectTo }).end()
      response.end('<p>inside</p>')
    })
    await new Promise<void>((started) => server.listen(0, '127.0.0.1', started))
    const address = server.address()
    origin = `http://127.0.0.1:${typeof address === 'object' ? address?.port : 0}`
  })
  afterAll(() => server.close())

  test('addresses of the machine itself are refused, however they are written, also where an owner names them', async () => {
    const OWN = ['127.0.0.0/8', '::1', 'localhost', '169.254.0.0/16', '0.0.0.0/0']
    const { port } = new URL(origin)
    for (const address of [
      origin,
      `http://localhost:${port}`,
      `http://[::1]:${port}`,
      `http://[::ffff:127.0.0.1]:${port}`,
      `http://2130706433:${port}`,
      'http://169.254.1.1/',
      'file:///etc/passwd',
    ]) {
      await expect(fetchPage(address, { origins: [], privateHosts: OWN }), address).rejects.toThrow(
        /lies on the machine|opens no pages from|not a web address|not known/,
      )
    }
  })
  test('private addresses are refused but for those that an owner has named, by name or by network', () => {
    const staging = new URL('https://staging.example.test:8443/')
    const named = (...privateHosts: string[]) => unreachableBecause(staging, '10.20.3.4', { origins: [], privateHosts })
    expect(named()).toContain('An owner can let Vetch open it')
    for (const other of ['10.21.0.0/16', 'example.test', 'staging.example.test:443', 'fd00::/8'])
      expect(named(other), other).not.toBeNull()
    for (const own of ['10.20.0.0/16', '10.20.3.4', 'staging.example.test', 'staging.example.test:8443'])
      expect(named(own), own).toBeNull()
    expect(unreachableBecause(staging, 'fd12::1', { origins: [], privateHosts: ['fd12::/16'] })).toBeNull()
    expect(unreachableBecause(staging, '93.184.215.14', { origins: [], privateHosts: [] })).toBeNull()
  })
  test('configured origins are fetched, but their redirects are checked again', async () => {
    expect((await fetchPage(`${origin}/page`, { origins: [origin], privateHosts: [] })).html).toBe('<p>inside</p>')
    redirectTo = origin.replace('127.0.0.1', 'localhost')
    await expect(fetchPage(`${origin}/redirect`, { origins: [origin], privateHosts: [] })).rejects.toThrow(
      /lies on the machine/,
    )
    redirectTo = '/redirect'
    await expect(fetchPage(`${origin}/redirect`, { origins: [origin], privateHosts: [] })).rejects.toThrow(
      /redirects more than/,
    )
  })
  test('pages that are too large are cut off', async () => {
    await expect(fetchPage(`${origin}/big`, { origins: [origin], privateHosts: [] })).rejects.toThrow(
      /larger than 2 MB/,
    )
  })
})

describe('a lookup that is remembered briefly', () => {
  const later = (milliseconds: number) => new Promise((tick) => setTimeout(tick, milliseconds))

  test('is asked once at a time, and again once it is stale or a fresh answer is wanted', async () => {
    let asked = 0
    const find = rememberBriefly(async () => ({ asked: ++asked }), 30)
    expect(await Promise.all([find('a'), find('a'), find('a')])).toEqual([{ asked: 1 }, { asked: 1 }, { asked: 1 }])
    expect(await find('a', true)).toEqual({ asked: 2 })
    await later(40)
    expect(await find('a')).toEqual({ asked: 3 })
  })

  test('is pushed out by no keys that nobody has, however many are made up', async () => {
    const asked: string[] = []
    const find = rememberBriefly(async (key) => (asked.push(key), key === 'own' ? { key } : null), 60_000, 10)
    await find('own')
    for (let index = 0; index < 50; index++) expect(await find(`made-up-${index}`)).toBe(null)
    expect(await find('own')).toEqual({ key: 'own' })
    expect(asked.filter((key) => key === 'own')).toHaveLength(1)
    // They are remembered, too, as long as there is room.
    await find('made-up-49')
    expect(asked.filter((key) => key === 'made-up-49')).toHaveLength(1)
  })

  test('outlives its source, be it away or hanging, and holds nobody up for long', async () => {
    let state: 'well' | 'away' | 'hanging' = 'well'
    const find = rememberBriefly(async () => {
      if (state === 'away') throw new Error('away')
      if (state === 'hanging') await new Promise(() => {})
      return { found: true }
    }, 1)
    await find('a')
    state = 'away'
    await later(5)
    expect(await find('a')).toEqual({ found: true })
    await expect(find('b')).rejects.toThrow('away')
    state = 'hanging'
    await later(5)
    expect(await find('a')).toEqual({ found: true })
    // Only the first to find it stale has waited for the answer.
    const others = Promise.all([find('a'), find('a')])
    expect(await Promise.race([others, later(0).then(() => 'waits')])).toEqual([{ found: true }, { found: true }])
  })
})

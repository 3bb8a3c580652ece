import { keyedPerson, proofOf } from '../../core/identity/provenPerson'
import { setTimeout as wait } from 'node:timers/promises'
import { describe, expect, test, vi } from 'vitest'
import { timeOrderedId } from '../../core/identity/timeOrderedId'
import { assign, isInTest } from '../../core/assignment/assignment'
import { DRIFT_SALT, DRIFT_SHARE } from '../../shared/intake/drift'
import { collect, isOwnOrigin, RefusedBatch, type CollectPorts, type IntakeSite } from './collect'
import { contentDigest } from './contentDigest'
import { groupCommit, Overloaded } from './groupCommit'
import { hashNetwork } from './hashNetwork'
import { openPlaces } from './place'
import { chunkReader } from './recordings/readInThread'
import { createTrafficLimits } from './trafficLimits'
import { readUserAgent } from './userAgent'
import { contentKey, type Arrival } from './writeArrivals'
import { visitorId } from '../../tests/visitorId'
import { DAY } from '../../core/time/units'

const NOW = Date.UTC(2026, 3, 1, 12)
const PLAN = { salt: 'kc', share: 10_000, weights: [1, 1] }
const SITE: IntakeSite = {
  id: 1,
  address: 'https://a.example',
  currency: 'EUR',
  largestAmount: 1000,
  parameters: new Set(['ref', 'utm_campaign']),
  attributes: new Set(['plan', 'seats']),
  eventDetails: new Set(['vehicle', 'travelers']),
  hosts: [],
  ownNetworks: [],
  assignments: new Map([[7, PLAN]]),
  hasReported: true,
  recordingShare: 0,
  personKey: null,
}
const GENEROUS = createTrafficLimits({ eventBurst: 1e9, visitorBurst: 1e9 })
let count = 0
const idAt = (at: number) => timeOrderedId(at, ++count % 4096, crypto.getRandomValues(new Uint8Array(8)))
const view = (changes: object = {}) => ({
  id: idAt(NOW - 5000),
  visitor: visitorId('visitor-0001'),
  session: 'session',
  address: 'https://a.example/book',
  ...changes,
})
const event = (of: { id: string }, changes: object = {}) => ({
  id: idAt(NOW - 1000),
  view: of.id,
  type: 'click',
  ...changes,
})

/** Takes a batch, and returns what was written and answered. */
async function take(views: object[], events: object[], changes: Partial<CollectPorts> = {}, sent = NOW) {
  let written: Arrival = { views: [], events: [] }
  const ports: CollectPorts = {
    findSite: async () => SITE,
    write: async (arrival) => ((written = arrival), new Set()),
    isKnownVisitor: async () => false,
    limits: GENEROUS,
    findPlace: () => ({ country: null, region: null, city: null }),
    hashNetwork: () => 'network',
    ...changes,
  }
  const body = JSON.stringify({ key: 'KEY', sent, views, events })
  const { reply } = await collect(
    { body, origin: 'https://a.example', address: '192.0.2.1', userAgent: 'x', receivedAt: new Date(NOW) },
    ports,
  )
  return { written, reply, why: reply.refused.map((each) => each.why) }
}

test.each([
  ['https://example.test', 'https://example.test', true],
  ['https://shop.example.test', 'https://www.example.test', true],
  ['https://evil-example.test', 'https://example.test', false],
  ['https://example.test:8443', 'https://example.test', false],
  ['https://example.test.evil.test', 'https://example.test', false],
  ['null', 'https://example.test', false],
  [null, 'https://example.test', false],
  ['https://tickets.example', 'https://example.test', true],
  ['http://kiosk.example:8080', 'https://example.test', true],
  ['http://kiosk.example', 'https://example.test', false],
  ['https://evil.tickets.example', 'https://example.test', false],
])('events from %s for %s: %s', (origin, address, expected) => {
  expect(isOwnOrigin(origin, { address, hosts: ['tickets.example', 'kiosk.example:8080'] })).toBe(expected)
})

describe('an event', () => {
  const refused = async (changes: object, viewChanges: object = {}) => {
    const of = view(viewChanges)
    return (await take([of], [event(of, changes)])).why
  }

  test('keeps the time of its id, whatever was sent with it', async () => {
    const of = view({ id: idAt(NOW - 3 * 365 * DAY) })
    const skewed = NOW - 3 * 365 * DAY + 9000
    const { written, why } = await take([of], [event(of, { id: idAt(skewed) })], {}, skewed + 1000)
    expect(why).toEqual([])
    expect(written.events[0]!.madeAt).toBe(skewed)
    expect(written.views[0]!.offset).toBe(NOW - skewed - 1000)
  })

  test.each<[string, object, RegExp]>([
    ['of a random id', { id: crypto.randomUUID() }, /version 7/],
    ['of eight days ago', { id: idAt(NOW - 8 * DAY) }, /too old/],
    ['of after its sending', { id: idAt(NOW + 120_000) }, /after it was sent/],
    ['with a field of its own', { visitor: 'somebody-else' }, /field that is not known/],
    ['of another view', { view: idAt(NOW) }, /page view/],
    ['of an experiment that is not there', { type: 'exposure', experiment: 8, variant: 0 }, /has started/],
    [
      'of the elements of an experiment that is not there',
      { type: 'drift', experiment: 8, properties: { looked: ['a'], lost: [], byClues: [] } },
      /has started/,
    ],
    ['of elements that are none', { type: 'drift', experiment: 7, properties: { looked: [{}] } }, /properties are not/],
    [
      'of a variant that nobody would get',
      { type: 'exposure', experiment: 7, variant: 1 - assign(visitorId('visitor-0001'), PLAN)! },
      /assigned/,
    ],
    [
      'with an amount beyond the site’s',
      { type: 'custom', name: 'order', amount: 1000.01 },
      /larger than the site allows/,
    ],
  ])('%s is refused', async (_, changes, why) => expect((await refused(changes))[0]).toMatch(why))

  test('of the variant that the visitor is assigned is taken', async () => {
    expect(
      await refused({ type: 'exposure', experiment: 7, variant: assign(visitorId('visitor-0001'), PLAN) }),
    ).toEqual([])
  })

  test('has an amount only where there may be one, in the decimals of its currency', async () => {
    const of = view()
    const { written } = await take(
      [of],
      [
        event(of, { amount: 9 }),
        event(of, { type: 'custom', name: 'order', amount: 1e-160 }),
        event(of, { type: 'amount', name: '#t', amount: 12.3449, currency: 'JPY' }),
      ],
    )
    expect(written.events.map(({ amount, currency }) => [amount, currency])).toEqual([
      [null, null],
      [0, 'EUR'],
      [12, 'JPY'],
    ])
  })

  test('tells of elements only where its visitor is one of those who look for them', async () => {
    const ids = [...Array(200).keys()].map((index) => visitorId(`visitor-${String(index).padStart(4, '0')}`))
    const looks = (visitor: string) => isInTest(visitor, { salt: DRIFT_SALT, share: DRIFT_SHARE })
    const drift = { type: 'drift', experiment: 7, properties: { looked: ['edit-0001'], lost: [], byClues: [] } }
    const told = async (visitor: string) => {
      const of = view({ visitor })
      const { written, why } = await take([of], [event(of, drift)])
      return [written.events.map(({ experimentId }) => experimentId), why]
    }
    expect(await told(ids.find(looks)!)).toEqual([[7], []])
    expect(await told(ids.find((visitor) => !looks(visitor))!)).toEqual([[], ['visitor is not one of those who look']])
  })

  test('says what the site keeps of its details, and nothing else', async () => {
    const of = view()
    const details = { vehicle: 'car', travelers: 3, card: '4711' }
    const { written, reply } = await take(
      [of],
      [
        event(of, { type: 'custom', name: 'order', details }),
        event(of, { type: 'custom', name: 'order', details: { card: '4711' } }),
        event(of, { details }),
        event(of, { type: 'custom', name: 'order', details: { vehicle: { plate: 'x' } } }),
      ],
    )
    expect(written.events.map((each) => each.details)).toEqual([{ vehicle: 'car', travelers: 3 }, null, null])
    expect(reply.refused.map(({ why }) => why)).toEqual([expect.stringContaining('details are texts, numbers')])
  })

  test('tells of the same order by its number, else by session, amount and address', async () => {
    const of = view()
    const order = (changes: object) => event(of, { type: 'custom', name: 'order', ...changes })
    const { written } = await take(
      [of],
      [
        order({ amount: 5, reference: 'A' }),
        order({ amount: 6, reference: 'A' }),
        order({ amount: 5, reference: 'B' }),
        order({ amount: 5 }),
        order({ amount: 5 }),
        order({}),
        order({}),
      ],
    )
    const keys = written.events.map(({ once }) => once)
    expect(keys[0]).toBe(keys[1])
    expect(keys[3]).toBe(keys[4])
    expect(new Set(keys.slice(0, 5)).size).toBe(3)
    expect(keys.slice(5)).toEqual([null, null])
  })
})

test('an exposure right after a start asks for the site anew instead of being refused', async () => {
  const of = view()
  const findSite = vi.fn(async (_key: string, fresh?: boolean) => (fresh ? SITE : { ...SITE, assignments: new Map() }))
  const { why } = await take(
    [of],
    [event(of, { type: 'exposure', experiment: 7, variant: assign(visitorId('visitor-0001'), PLAN) })],
    { findSite },
  )
  expect(why).toEqual([])
  expect(findSite).toHaveBeenCalledTimes(2)
})

test('an exposure right after a share was raised asks for the site anew instead of being refused', async () => {
  const before: IntakeSite = { ...SITE, assignments: new Map([[7, { ...PLAN, share: 100 }]]) }
  const newcomers = Array.from({ length: 100 }, (_, index) => visitorId(`visitor-${index}-new`)).filter(
    (visitor) => assign(visitor, before.assignments.get(7)!) === null,
  )
  for (const visitor of newcomers) {
    const of = view({ visitor })
    const exposure = event(of, { type: 'exposure', experiment: 7, variant: assign(visitor, PLAN)! })
    const { reply } = await take([of], [exposure], { findSite: async (_, fresh) => (fresh ? SITE : before) })
    expect(reply).toEqual({ accepted: 2, refused: [] })
  }
  expect(newcomers.length).toBeGreaterThan(90)
})

test('views and events of the site’s other hosts are taken, and of no others', async () => {
  const site: IntakeSite = { ...SITE, hosts: ['tickets.example', 'kiosk.example:8443'] }
  const sent = async (address: string) => {
    const of = view({ address })
    return (await take([of], [event(of)], { findSite: async () => site })).why
  }
  for (const address of ['https://tickets.example/a', 'https://kiosk.example:8443/b', 'https://www.a.example/c'])
    expect(await sent(address)).toEqual([])
  for (const address of ['https://kiosk.example/', 'https://evil.tickets.example/', 'https://other.example/'])
    expect(await sent(address)).toHaveLength(2)
})

describe('persons of a site that asks for proof', () => {
  const site: IntakeSite = {
    ...SITE,
    personKey: 'key-of-persons',
    assignments: new Map([[3, { salt: 'of-persons', share: 10_000, weights: [1], unit: 'person' }]]),
  }
  const person = keyedPerson('customer-4711', site.personKey!)
  const proven = `${person}.${proofOf(person, site.personKey!)}`
  const sent = async (told: string | undefined, findSite: () => Promise<IntakeSite> = async () => site) => {
    const of = view({ person: told })
    const exposure = event(of, { type: 'exposure', experiment: 3, variant: 0, element: undefined, person: told })
    const { written, why } = await take([of], [exposure, event(of, { person: told })], { findSite })
    return { why, persons: [...written.views, ...written.events].map(({ personId }) => personId) }
  }

  test('are kept with their proof, and without the proof itself', async () => {
    expect(await sent(proven)).toEqual({ why: [], persons: [person, person, person] })
  })
  test.each([
    ['somebody else', `${keyedPerson('customer-4712', 'key-of-persons')}.${proven.split('.')[1]}`],
    ['the same person without proof', person],
  ])('that a stranger makes up, as %s, are nobody: what was done counts for the visitor', async (_, told) => {
    expect(await sent(told)).toEqual({ why: ['the person is not proved'], persons: [null, null] })
  })
  test('need none where the site asks for none', async () => {
    const asksForNone = async () => ({ ...site, personKey: null })
    expect((await sent(person, asksForNone)).persons).toEqual([person, person, person])
    expect((await sent(proven, asksForNone)).persons).toEqual([person, person, person])
  })
})

describe('a view', () => {
  test('keeps neither fragments nor parameters that nobody listed', async () => {
    const { written } = await take(
      [
        view({
          address: 'https://a.example/book?token=s3cret&ref=1#access_token=x',
          referrer: 'https://search.example/?q=private',
        }),
      ],
      [],
    )
    expect(written.views[0]).toMatchObject({ address: 'https://a.example/book?ref=1', referrerHost: 'search.example' })
    expect(JSON.stringify(written)).not.toMatch(/s3cret|access_token|private/)
  })
  test.each<[string, RegExp]>([
    ['javascript:alert(1)', /of the web/],
    ['https://elsewhere.example/', /site’s/],
  ])('of %s is refused', async (address, why) => {
    const of = view({ address })
    expect((await take([of], [event(of)])).why).toEqual([
      expect.stringMatching(why),
      expect.stringMatching(/page view/),
    ])
  })
  test('of a robot is marked', () => {
    expect(readUserAgent('Mozilla/5.0 (compatible; harborbot/1.0; +https://robot.example/)').isRobot).toBe(true)
    expect(
      readUserAgent(
        'Mozilla/5.0 (Linux; Android 15; Pixel 8) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/141.0.0.0 Mobile Safari/537.36',
      ),
    ).toEqual({ device: 'phone', system: 'Android', browser: 'Chrome', browserVersion: '141', isRobot: false })
  })
})

test('what is there with other content is refused, each by itself', async () => {
  const of = view()
  const [one, other] = [event(of), event(of)]
  const { reply } = await take([of], [one, other], { write: async ({ events }) => new Set([contentKey(events[1]!)]) })
  expect(reply).toEqual({ accepted: 2, refused: [{ id: other.id, why: expect.stringContaining('something else') }] })
  expect(contentDigest({ a: 1, b: [2] })).toBe(contentDigest({ b: [2], a: 1 }))
  expect(contentDigest({ a: 1 })).not.toBe(contentDigest({ a: 2 }))
})

describe('limits', () => {
  const limits = () => createTrafficLimits({ eventBurst: 10, eventsASecond: 1, visitorBurst: 3 })
  test('of one visitor’s events refill with time', () => {
    const own = limits()
    expect([
      own.mayReport('v', 8, NOW),
      own.mayReport('v', 3, NOW),
      own.mayReport('other', 3, NOW),
      own.mayReport('v', 3, NOW + 2000),
    ]).toEqual([true, false, true, true])
  })
  test('of new visitors of one network do not touch those who are known', async () => {
    const own = limits()
    const begin = (visitor: string, isKnown = false) => own.mayBegin(visitor, 'network', async () => isKnown, NOW)
    expect([
      await begin('a'),
      await begin('b'),
      await begin('c'),
      await begin('d'),
      await begin('a'),
      await begin('e', true),
    ]).toEqual([true, true, true, false, true, true])
  })
  test('of new visitors are not used up by those who are known', async () => {
    const own = limits()
    for (let known = 0; known < 10; known++) await own.mayBegin(`known-${known}`, 'network', async () => true, NOW)
    const fresh = ['a', 'b', 'c', 'd'].map((visitor) => own.mayBegin(visitor, 'network', async () => false, NOW))
    expect(await Promise.all(fresh)).toEqual([true, true, true, false])
  })
  test('500 visitors in three seconds are not taken', async () => {
    const own = createTrafficLimits()
    let taken = 0
    for (let index = 0; index < 500; index++) {
      const of = view({ visitor: visitorId(`forged-${String(index).padStart(6, '0')}`) })
      await take([of], [], { limits: own }).then(
        () => taken++,
        (error: unknown) => expect((error as RefusedBatch).status).toBe(429),
      )
    }
    expect(taken).toBeLessThan(40)
  })
  test('500 persons of one visitor in three seconds are not taken either', async () => {
    const own = createTrafficLimits()
    let taken = 0
    for (let index = 0; index < 500; index++) {
      await take([view({ person: String(index).padStart(32, '0') })], [], { limits: own }).then(
        () => taken++,
        (error: unknown) => expect((error as RefusedBatch).status).toBe(429),
      )
    }
    expect(taken).toBeLessThan(40)
  })
})

test('a chunk that cannot be read by a fault of ours is to be sent again', async () => {
  const logged = vi.spyOn(console, 'error').mockImplementation(() => {})
  await expect(chunkReader('/no/such/thread.mjs')(Buffer.from('{}'))).rejects.toThrow(Overloaded)
  expect(logged).toHaveBeenCalled()
  logged.mockRestore()
})

test('networks are told apart for a day, and nothing else', () => {
  const [day, next] = [new Date(NOW), new Date(NOW + DAY)]
  expect(hashNetwork('s', '192.0.2.1', day)).toBe(hashNetwork('s', '192.0.2.1', day))
  expect(hashNetwork('s', '192.0.2.1', day)).not.toBe(hashNetwork('s', '192.0.2.2', day))
  expect(hashNetwork('s', '192.0.2.1', day)).not.toBe(hashNetwork('s', '192.0.2.1', next))
  expect(hashNetwork('s', '2001:db8::1', day)).toBe(hashNetwork('s', '2001:db8::ffff:1', day))
})

test('places come from the lookup file and the made-up networks', async () => {
  const file = 'node_modules/@ip-location-db/geo-whois-asn-country-mmdb/geo-whois-asn-country.mmdb'
  const find = await openPlaces({ country: file, city: '', hasMadeUp: true })
  expect(find('198.18.70.1')).toEqual({ country: 'IE', region: 'Connacht', city: 'Harrow Quay' })
  expect(find('193.0.6.139').country).toMatch(/^[A-Z]{2}$/)
  expect(find('not an address')).toEqual({ country: null, region: null, city: null })
})

describe('group commit', () => {
  test('what arrives during a write shares the next one, and nobody waits for less than their own', async () => {
    const writes: number[][] = []
    const write = groupCommit<number, void>(
      async (group) => {
        await wait(5)
        writes.push(group)
      },
      () => 1,
      { writers: 1 },
    )
    await Promise.all(
      Array.from({ length: 50 }, (_, index) => write(index).then(() => expect(writes.flat()).toContain(index))),
    )
    expect(writes.flat().sort((a, b) => a - b)).toEqual(Array.from({ length: 50 }, (_, index) => index))
    expect(writes.length).toBeLessThan(6)
  })

  test('a bad row fails its own caller and no other', async () => {
    const written: number[] = []
    const write = groupCommit<number, void>(
      async (group) => {
        if (group.includes(13)) throw new Error('thirteen')
        written.push(...group)
      },
      () => 1,
      { writers: 1 },
    )
    const results = await Promise.allSettled(Array.from({ length: 20 }, (_, index) => write(index)))
    expect(results.map(({ status }) => status).filter((status) => status === 'rejected')).toHaveLength(1)
    expect(results[13]!.status).toBe('rejected')
    expect(written).toHaveLength(19)
  })

  test('a lost connection fails the whole group at once, instead of once for each', async () => {
    let tries = 0
    const write = groupCommit<number, void>(
      async () => {
        tries++
        throw new Error('Connection terminated')
      },
      () => 1,
      { writers: 1, isConnectionLost: () => true },
    )
    const results = await Promise.allSettled(Array.from({ length: 200 }, (_, index) => write(index)))
    expect(results.every(({ status }) => status === 'rejected')).toBe(true)
    expect(tries).toBeLessThan(5)
  })

  test('more than may wait is refused at once', async () => {
    let begin = () => {}
    const begun = new Promise<void>((resolve) => (begin = resolve))
    const write = groupCommit<number, void>(
      () => {
        begin()
        return new Promise(() => {})
      },
      (size) => size,
      { writers: 1, most: 10, mostWaiting: 25 },
    )
    void write(10)
    // What is being written waits no more.
    await begun
    void write(20)
    await expect(write(10)).rejects.toBeInstanceOf(Overloaded)
  })
})

import type { MetricEntry, MetricFiguresView, MetricProposal, MetricTrial } from '../../shared/metrics/replies'
import { learningCost } from '../../core/hypotheses/learningCost'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { connect } from '../../server/database/connect'
import { fillSheet } from '../../server/services/experiments/changeSheet'
import { createExperiment } from '../../server/services/experiments/experiments'
import { folded, happen, type Happening } from '../arrivals'
import { primaryMetric } from '../metrics'
import { callerOf, createTeam } from './people'
import { ownStack } from './ownStack'
import { DAY } from '../../core/time/units'

const VISITORS = 400
const { url, databaseUrl } = ownStack()
const database = connect(databaseUrl, 2)
let team: Awaited<ReturnType<typeof createTeam>>
let viewer: Awaited<ReturnType<typeof callerOf>>
let path: string

const FORM = 'body>main:nth-child(1)>form#finder:nth-child(2):nth-of-type(1)'
const REACHED = { type: 'visit', page: { match: 'exact', value: '/book/done' } } as const
const orders = primaryMetric('Orders', 'conversion', { type: 'event', name: 'order' })

beforeAll(async () => {
  team = await createTeam(database)
  viewer = await callerOf(url, team.emails.viewer)
  path = `/api/sites/${team.site.id}`
  const happenings = [...Array(VISITORS).keys()].flatMap((index): Happening[] => {
    const at = Date.now() - 2 * DAY - (index % 20) * DAY
    const visitor = `visitor-${index}`
    return [
      { visitor, at, path: '/' },
      // Every fourth orders, for 10 or 20; every eighth sends the form; every fifth comes to the page after it.
      ...(index % 4 === 0
        ? [{ visitor, at: at + 60_000, type: 'custom', name: 'order', amount: index % 8 === 0 ? 10 : 20 } as const]
        : []),
      ...(index % 8 === 0 ? [{ visitor, at: at + 70_000, type: 'submit', element: FORM } as const] : []),
      ...(index % 5 === 0 ? [{ visitor, at: at + 80_000, path: '/book/done' }] : []),
    ]
  })
  await happen(database, team.site, happenings)
  await folded(database, team.site.id)
  const { id: experimentId } = await createExperiment(database, team.site.id, null, 'Uses a metric')
  await fillSheet(
    database,
    { siteId: team.site.id, experimentId, personId: null },
    {
      metrics: [
        orders,
        {
          ...primaryMetric('Amount per order', 'ratio', { type: 'event', name: 'order' }),

          denominator: REACHED,
          role: 'secondary',
        },
      ],
    },
  )
})
afterAll(() => database.$client.end())

const read = async <Reply>(at: string) => (await (await viewer('GET', `${path}/${at}`)).json()) as Reply
const tried = async (body: object) => (await (await viewer('POST', `${path}/metric-trial`, body)).json()) as MetricTrial

test('the library says what each metric counts, what it came to, and who uses it', async () => {
  const entries = await read<MetricEntry[]>('metrics')
  expect(entries.map(({ name, kind }) => `${name}: ${kind}`)).toEqual(['Amount per order: ratio', 'Orders: conversion'])
  expect(entries[1]!.experiments).toMatchObject([{ name: 'Uses a metric', state: 'draft' }])
  const { figures, currency } = await read<MetricFiguresView>('metric-figures')
  expect(currency).toBe('EUR')
  expect(figures[entries[1]!.id]).toMatchObject({ visitors: VISITORS, converters: 100, value: 0.25 })
  // 400 visitors in four weeks show no small lift.
  expect(figures[entries[1]!.id]!.visibleLift).toBeGreaterThan(0.3)
  // 50 orders of 10 and 50 of 20, over 80 visits.
  const ratio = figures[entries[0]!.id]!
  expect(ratio.value).toBe(1500 / 80)
  // One value a visitor, computed from what was put in: what they spent beyond the mean for their visits.
  const ofEach = [...Array(VISITORS).keys()].map((index) => {
    const spent = index % 4 === 0 ? (index % 8 === 0 ? 10 : 20) : 0
    return (spent - (1500 / 80) * (index % 5 === 0 ? 1 : 0)) / (80 / VISITORS)
  })
  const deviation = Math.sqrt(ofEach.reduce((sum, each) => sum + each ** 2, 0) / VISITORS)
  const spread = { days: 28, visitors: VISITORS, mean: 1500 / 80, deviation }
  expect(ratio.visibleLift).toBeCloseTo(learningCost(spread, 'mean', 0, 'up').visibleLift!, 9)
})

test('a definition shows what it counts before anybody keeps it', async () => {
  const form = await tried({ kind: 'conversion', source: { type: 'submit', selector: '#finder' } })
  expect(form.figures).toMatchObject({ visitors: VISITORS, converters: 50, value: 0.125 })
  expect(form.sample).toHaveLength(10)
  expect(form.sample[0]).toMatchObject({ page: '/elsewhere', what: 'form #finder' })
  expect(form.sample.every(({ at }, place) => place === 0 || at <= form.sample[place - 1]!.at)).toBe(true)
  const amounts = await tried({ kind: 'mean', source: { type: 'event', name: 'order' } })
  expect(amounts.figures.value).toBe(1500 / VISITORS)
  expect(new Set(amounts.sample.map(({ amount }) => amount))).toEqual(new Set([10, 20]))
  expect((await tried({ kind: 'conversion', source: REACHED })).figures.converters).toBe(80)
  expect((await tried({ kind: 'conversion', source: { type: 'click', selector: '#nothing' } })).sample).toEqual([])
  const capped = await tried({ kind: 'mean', source: { type: 'event', name: 'order' }, cap: 15 })
  expect(capped.figures.value).toBe((50 * 10 + 50 * 15) / VISITORS)
  const bounces = await tried({ kind: 'ratio', source: { type: 'bounces' }, denominator: { type: 'visits' } })
  // Whoever ordered, sent the form or came to the page after it saw more than one page.
  expect(bounces.figures.value).toBe(240 / VISITORS)
  expect(bounces.sample[0]).toMatchObject({ page: '/', what: '1 page, 0 s' })
  const refused = await viewer('POST', `${path}/metric-trial`, { kind: 'mean', source: { type: 'visit' } })
  expect(refused.status).toBe(422)
})

test('metrics are proposed from what arrives, without those that the site has', async () => {
  const proposals = await read<MetricProposal[]>('metric-proposals')
  expect(proposals.map(({ name }) => name)).toEqual([
    'Reached /book/done',
    'Amount of “order”',
    'Sent #finder',
    'Engagement',
    'Bounce rate',
    'Pages a visit',
    'Time in view',
    'How long a visit lasts',
    'Came back within 7 days',
    'Sent a form',
    'Errors of pages',
  ])
  expect(proposals[0]!.reason).toMatch(/^80 visitors reached/)
})

test('a metric is renamed wherever it is used, by editors, and not to the name of another', async () => {
  const [first, second] = await read<MetricEntry[]>('metrics')
  const editor = await callerOf(url, team.emails.editor)
  const at = `${path}/metrics/${second!.id}`
  expect((await viewer('PATCH', at, { name: 'Mine' })).status).toBe(403)
  const twice = await editor('PATCH', at, { name: first!.name.toUpperCase() })
  expect([twice.status, await twice.text()]).toEqual([422, expect.stringContaining('Another metric has this name')])
  expect((await editor('PATCH', at, { name: 'Paid orders' })).status).toBe(200)
  expect((await read<MetricEntry[]>('metrics')).map(({ name }) => name)).toContain('Paid orders')
})

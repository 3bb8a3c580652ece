import type { Pool } from 'pg'
import type { EventDetails } from '../../../core/measurement/eventDetails'
import type { Answered, Asked, FieldVisit, RageClick, Reading, SeenForm } from '../../../core/evidence/behavior'
import { FIELD_SEPARATOR } from '../../../core/evidence/formReport'
import {
  FIELD_BLANK,
  FIELD_REFILL,
  NO_CHANGE,
  Visits,
  within,
  type Step,
  type StepKind,
} from '../../../core/evidence/visits'
import { inOwnCurrency, type DatedRate, type Money } from '../../../core/measurement/money'
import { siteDays } from '../../../core/time/siteDay'
import { HttpProblem } from '../HttpProblem'
import { END_OF_PORTION } from '../results/queries'
import * as queries from './queries'

const ROWS_AT_A_TIME = 50_000

/** What a site's visits are read by. */
export interface Basis {
  address: string
  timeZone: string
  currency: string
  rates: DatedRate[]
  /** Visitors that were erased. */
  erasures: number
}

/** The visits of one site in memory, as far as they have been read. */
export interface SiteVisits {
  visits: Visits
  basis: Basis
  /** Number of the last view or event that was read. */
  seq: number
}

type Row = readonly unknown[]

/**
 * A site's visits up to what has been folded. Given what was read before, it costs what is new; where the settings have
 * changed by which it was read, all of it is read again.
 *
 * @param onPortion - called after each portion that was read
 * @throws HttpProblem 404 for a site that does not exist
 */
export async function readSiteVisits(
  pool: Pool,
  siteId: number,
  known: SiteVisits | null,
  onPortion: (site: SiteVisits) => void = () => {},
): Promise<SiteVisits> {
  const [basis] = (await pool.query<Basis>(queries.BASIS, [siteId])).rows
  if (!basis) throw new HttpProblem(404, 'This site does not exist.')
  const isSame = known && JSON.stringify(known.basis) === JSON.stringify(basis)
  const site = isSame ? known : { visits: new Visits(new URL(basis.address).host), basis, seq: 0 }
  const cursor = await pool.query<{ seq: string }>(queries.FOLDED_UP_TO, [siteId])
  const upTo = Number(cursor.rows[0]?.seq ?? 0)
  while (site.seq < upTo) {
    await readPortion(pool, siteId, site, upTo)
    onPortion(site)
  }
  return site
}

async function readPortion(pool: Pool, siteId: number, site: SiteVisits, upTo: number): Promise<void> {
  const end = await pool.query<{ seq: string | null }>(END_OF_PORTION, [siteId, site.seq, upTo, ROWS_AT_A_TIME])
  const to = Number(end.rows[0]?.seq ?? upTo)
  const rowsOf = async (text: string) =>
    (await pool.query<unknown[]>({ text, values: [siteId, site.seq, to], rowMode: 'array' })).rows
  const [views, events, leftOut] = [
    await rowsOf(queries.VIEWS),
    await rowsOf(queries.EVENTS),
    await rowsOf(queries.LEFT_OUT),
  ]
  const { basis, visits } = site
  const money = moneyOf(basis)
  // By number: what came at the same moment stays in the order in which it came.
  let next = 0
  for (const view of views) {
    while (next < events.length && Number(events[next]!.at(-1)) < Number(view.at(-1)))
      visits.add(stepOfEvent(events[next++]!, money))
    visits.add(stepOfView(view))
  }
  while (next < events.length) visits.add(stepOfEvent(events[next++]!, money))
  for (const [id, isOut] of leftOut) visits.leaveOut(String(id), isOut === true)
  site.seq = to
}

const textOf = (value: unknown) => (typeof value === 'string' ? value : null)
const numberOf = (value: unknown) => (typeof value === 'number' ? value : 0)

/** Columns of `queries.VIEWS`. Plain reading by number: this is done for every view that a site ever had. */
function stepOfView(row: Row): Step {
  return {
    visitor: row[0] as string,
    session: row[1] as string,
    at: row[2] as number,
    kind: 'page',
    address: row[3] as string,
    windowWidth: numberOf(row[4]),
    circumstances: row.slice(5, -2) as (string | null)[],
    attributes: row.at(-2) as Step['attributes'],
  }
}

type ToOwnCurrency = (amount: number, currency: string | null, at: number) => number | null

function moneyOf({ currency, rates, timeZone }: Basis): ToOwnCurrency {
  const money: Money = { currency, rates }
  const dayOf = siteDays(timeZone)
  return (amount, from, at) => inOwnCurrency(money, amount, from, dayOf(at))
}

/** Columns of `queries.EVENTS`. */
function stepOfEvent(row: Row, inMoney: ToOwnCurrency): Step {
  const step: Step = {
    visitor: row[0] as string,
    session: row[1] as string,
    at: row[2] as number,
    address: row[3] as string,
    kind: row[4] as StepKind,
    element: textOf(row[5]),
    label: textOf(row[6]),
    name: textOf(row[7]),
    once: textOf(row[10]),
    x: numberOf(row[11]),
    y: numberOf(row[12]),
  }
  addDetails(step, row, inMoney)
  return step
}

/** What only some kinds of steps have. */
function addDetails(step: Step, row: Row, inMoney: ToOwnCurrency): void {
  const amount = row[8]
  const properties = row[15]
  switch (step.kind) {
    case 'click':
      if (row[13] !== null) step.detail = within(clamped(row[13]), clamped(row[14]))
      return
    case 'amount':
    case 'custom':
      // An amount that cannot be converted adds nothing; an event without one counts as one.
      step.value = amount === null ? 1 : (inMoney(Number(amount), textOf(row[9]), step.at) ?? 0)
      if (row[16] !== null) step.extra = row[16] as EventDetails
      return
    case 'reading': {
      const { seen, depth, height, bands } = properties as Reading
      step.value = seen
      step.x = depth
      step.y = height
      step.extra = bands
      return
    }
    case 'form':
      step.extra = properties as SeenForm
      return
    case 'field': {
      const { form, time, hesitation, isBlank, isRefill } = properties as FieldVisit
      step.name = form + FIELD_SEPARATOR + step.name
      step.x = time
      step.y = hesitation ?? NO_CHANGE
      step.detail = (isBlank ? FIELD_BLANK : 0) | (isRefill ? FIELD_REFILL : 0)
      return
    }
    case 'asked':
      step.name = String((properties as Asked).survey)
      return
    case 'answer':
      step.name = String((properties as Answered).survey)
      step.extra = properties as Answered
      return
    case 'rage':
      step.value = (properties as RageClick).clicks
  }
}

const clamped = (perMille: unknown) => Math.min(1000, Math.max(0, Number(perMille)))

import { sql, type SQL } from 'drizzle-orm'
import { testsIn, type Condition } from '../../../core/targeting/condition'
import type { Past, PastView } from '../../../core/targeting/replay'
import type { Fact } from '../../../core/targeting/visitorFacts'
import { PgDialect } from 'drizzle-orm/pg-core'
import pg, { type QueryArrayConfig } from 'pg'
import type { Database } from '../../database/connect'
import { findSite } from '../sites/sites'

type FactName = keyof PastView['facts']

/** What is read of a view beside when and where it was, by the name that conditions know it by. */
const COLUMNS = {
  visits: sql`visit`,
  referrer: sql`coalesce(referrer_host, '')`,
  device: sql`device`,
  system: sql`system`,
  browser: sql`browser`,
  browserVersion: sql`browser_version`,
  language: sql`language`,
  timeZone: sql`time_zone`,
  country: sql`country`,
  region: sql`region`,
  city: sql`city`,
  screenWidth: sql`screen_width`,
  attributes: sql`attributes`,
} satisfies Partial<Record<FactName, SQL>>
type Column = keyof typeof COLUMNS

/** Facts that are told by columns of another name. */
const TOLD_BY: Partial<Record<Fact, readonly Column[]>> = {
  visitor: ['visits'],
  sourceKind: ['referrer'],
  attribute: ['attributes'],
  weekday: ['timeZone'],
  hour: ['timeZone'],
  date: ['timeZone'],
}

/** A row as it comes: visitor, id, session, moment, address, person, and the columns that were asked for. */
type Row = [string, string, string, number, string, string | null, ...unknown[]]
const BEFORE_FACTS = 6
/** Read in one statement: few enough that the next can be read while these are looked at. */
const VISITORS_A_PORTION = 2500

/**
 * What is kept of some visitors, as a condition asks for it: their views with what it looks at, and what they did.
 * Visitors come as they are read: while some are looked at, the next are being read.
 *
 * @param asked - the condition; what it does not ask for is not read
 * @param isTested - whether a view is one of those that are asked about
 */
export async function* pastOfVisitors(
  database: Database,
  siteId: number,
  visitors: readonly string[],
  asked: Condition | null,
  isTested: (view: { at: number; address: string }) => boolean,
): AsyncGenerator<[visitor: string, past: Past]> {
  const { timeZone, address: origin, adParameters } = await findSite(database, siteId)
  const facts = new Set(asked ? testsIn(asked).map(({ fact }) => fact) : [])
  const columns = columnsOf(facts)
  const factsOf = sharedFacts(columns, new URL(origin).host)
  const read = async (ids: string[]) => ({
    viewsOf: await viewsByVisitor(database, siteId, ids, columns, isTested, factsOf),
    done: facts.has('did') ? await eventsOf(database, siteId, ids) : null,
  })
  for await (const { viewsOf, done } of readAhead(portionsOf(visitors), read))
    for (const [visitor, views] of viewsOf)
      yield [visitor, { views, events: done?.get(visitor) ?? [], siteTimeZone: timeZone, adParameters }]
}

/** Views of each visitor in the order of time. */
async function viewsByVisitor(
  database: Database,
  siteId: number,
  ids: string[],
  columns: readonly Column[],
  isTested: (view: { at: number; address: string }) => boolean,
  factsOf: (row: Row) => PastView['facts'],
): Promise<Map<string, PastView[]>> {
  const moment = sql`date_part('epoch', occurred_at) * 1000`
  const wanted = columns.map((name) => COLUMNS[name])
  const all = sql.join([sql`visitor_id, id, session_id`, moment, sql`address, person_id`, ...wanted], sql`, `)
  const viewsOf = new Map<string, PastView[]>()
  await eachRow<Row>(
    database,
    sql`SELECT ${all} FROM page_view WHERE site_id = ${siteId} AND visitor_id = ANY(${sql.param(ids)}::text[])`,
    (row) => {
      // Not taken apart as a list, which would go through it once more.
      const visitor = row[0]
      let views = viewsOf.get(visitor)
      if (!views) viewsOf.set(visitor, (views = []))
      const at = row[3]
      const address = row[4]
      const view: PastView = {
        id: row[1],
        session: row[2],
        at,
        address,
        isTested: isTested({ at, address }),
        facts: factsOf(row),
      }
      if (row[5] !== null) view.person = row[5]
      views.push(view)
    },
  )
  // Sorted here: by visitor they are few, and nearly in order.
  for (const views of viewsOf.values()) views.sort(byTime)
  return viewsOf
}

function portionsOf(visitors: readonly string[]): string[][] {
  const portions: string[][] = []
  for (let start = 0; start < visitors.length; start += VISITORS_A_PORTION)
    portions.push(visitors.slice(start, start + VISITORS_A_PORTION))
  return portions
}

/** What is read of each thing, in their order; the next is being read while one is worked on. */
async function* readAhead<Thing, Read>(things: readonly Thing[], read: (thing: Thing) => Promise<Read>) {
  let next: Promise<Read> | null = null
  for (const [index, thing] of things.entries()) {
    const one = await (next ?? read(thing))
    const following = things[index + 1]
    next = following === undefined ? null : read(following)
    // Whoever stops halfway awaits this no more: its failure must not end the process.
    next?.catch(() => {})
    yield one
  }
}

/** Of the same moment, the id that was made first. */
const byTime = (one: PastView, other: PastView) => one.at - other.at || (one.id < other.id ? -1 : 1)

function columnsOf(facts: ReadonlySet<Fact>): Column[] {
  const wanted = new Set([...facts].flatMap((fact) => TOLD_BY[fact] ?? [fact as Column]))
  return (Object.keys(COLUMNS) as Column[]).filter((name) => wanted.has(name))
}

async function eventsOf(
  database: Database,
  siteId: number,
  ids: string[],
): Promise<Map<string, Past['events'][number][]>> {
  const done = new Map<string, Past['events'][number][]>()
  await eachRow<[visitor: string, name: string, at: number]>(
    database,
    sql`SELECT visitor_id, name, date_part('epoch', occurred_at) * 1000
      FROM event WHERE site_id = ${siteId} AND visitor_id = ANY(${sql.param(ids)}::text[])
        AND type = 'custom' AND name IS NOT NULL
      ORDER BY visitor_id, occurred_at, seq`,
    ([visitor, name, at]) => {
      const own = done.get(visitor) ?? []
      done.set(visitor, own)
      own.push({ name, at })
    },
  )
  return done
}

/** What rows say of their visitors; the same object for rows that follow each other and say the same. */
function sharedFacts(columns: readonly Column[], host: string): (row: Row) => PastView['facts'] {
  let last: Row | null = null
  let facts: PastView['facts'] = {}
  const saysTheSame = (row: Row, other: Row) => {
    for (let index = BEFORE_FACTS; index < row.length; index++) if (row[index] !== other[index]) return false
    return true
  }
  return (row) => {
    if (last && saysTheSame(row, last)) return facts
    last = row
    const known = columns.flatMap((name, index): [Column, unknown][] => {
      const value = row[BEFORE_FACTS + index]
      if (value === null) return []
      return [[name, name === 'referrer' && value === host ? '' : value]]
    })
    return (facts = Object.fromEntries(known))
  }
}

/** Rows one by one and as lists: there are very many of them, and of each only some columns are kept. */
async function eachRow<Row extends unknown[]>(
  database: Database,
  statement: SQL,
  take: (row: Row) => void,
): Promise<void> {
  const { sql: text, params: values } = new PgDialect({ casing: 'snake_case' }).sqlToQuery(statement)
  const asked: QueryArrayConfig = { text, values, rowMode: 'array' }
  const client = await database.$client.connect()
  try {
    await new Promise<void>((resolve, reject) => {
      const query = client.query(new pg.Query<Row>(asked))
      query.on('row', (row) => take(row as unknown as Row))
      query.on('end', () => resolve())
      query.on('error', reject)
    })
  } finally {
    client.release()
  }
}

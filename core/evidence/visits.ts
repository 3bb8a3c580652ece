import { Dictionary, Growing } from './dictionary'

/** What visitors do, step by step: page views and everything that happens in them. */
export const STEP_KINDS = [
  'page',
  'click',
  'submit',
  'amount',
  'custom',
  'error',
  'rage',
  'dead',
  'reading',
  'form',
  'field',
  'asked',
  'answer',
] as const
export type StepKind = (typeof STEP_KINDS)[number]
/** Number of each kind in a column, spelled out: it is asked of every step. */
export const KIND = {
  page: 0,
  click: 1,
  submit: 2,
  amount: 3,
  custom: 4,
  error: 5,
  rage: 6,
  dead: 7,
  reading: 8,
  form: 9,
  field: 10,
  asked: 11,
  answer: 12,
} as const satisfies Record<StepKind, number>

/** What sessions are told apart by: what their first view says. */
export const DIMENSIONS = [
  'device',
  'browser',
  'system',
  'country',
  'region',
  'city',
  'language',
  'source',
  'medium',
  'campaign',
  'term',
  'content',
  'timeZone',
  'visitor',
  'landing',
] as const
export type Dimension = (typeof DIMENSIONS)[number]

/** One step as it comes, in the order of arrival. */
export interface Step {
  visitor: string
  session: string
  /** ms since 1970 */
  at: number
  kind: StepKind
  address: string
  /** Path of the element of a click, submission, form or field. */
  element?: string | null
  /** Label of a link, button or field. */
  label?: string | null
  /** Of a custom event, form or field its name, of an amount its selector, of an error its message, of a survey its number. */
  name?: string | null
  /** Of a click the place on the page, in CSS pixels; of a reading the depth and height; of a field time and hesitation. */
  x?: number
  y?: number
  /** Of an amount or event its amount in the site's currency; of a reading the ms in view. */
  value?: number
  /** Of a click the place in the element, in 1/1000 of its width and height; of a field whether it is blank or refilled. */
  detail?: number
  /** The same for everything that tells of the same order. */
  once?: string | null
  /** Of a page view: what it says of its session, in the order of `DIMENSIONS` but without the landing page. */
  circumstances?: readonly (string | null)[]
  /** Of a page view, what the page said of the visitor. */
  attributes?: Readonly<Record<string, unknown>> | null
  /** Of a page view, in CSS pixels; 0 where it is not known. */
  windowWidth?: number
  /** Of a reading, ms by part of the page; of a form, its fields; of an answer, all of it; of an event, its details. */
  extra?: unknown
}

/** Flags of a field in `detail`. */
export const FIELD_BLANK = 1
export const FIELD_REFILL = 2
/** Hesitation of a field in which nothing was changed. */
export const NO_CHANGE = -1
/** A click's place within its element, in one number. */
export const within = (x: number, y: number) => (x + 1) * 1002 + (y + 1)
export const withinX = (detail: number) => Math.floor(detail / 1002) - 1
export const withinY = (detail: number) => (detail % 1002) - 1

/** Visitors whose steps lie in one block: what comes anew costs no more than the blocks that it concerns. */
const VISITORS_IN_BLOCK = 4096

/** The steps of some visitors, ordered by visitor, session and time. Columns: one number a step. */
export interface Block {
  count: number
  /** First row of each session, and the number of all rows: what is asked of sessions need not read every step. */
  runs: Uint32Array
  /** Of each session its number, its visitor, and the moment of its first view; Infinity without one. */
  runSession: Uint32Array
  runVisitor: Uint32Array
  runStart: Float64Array
  visitor: Uint32Array
  session: Uint32Array
  at: Float64Array
  kind: Uint8Array
  address: Uint32Array
  element: Uint32Array
  name: Uint32Array
  x: Int32Array
  y: Int32Array
  value: Float64Array
  detail: Uint32Array
  once: Uint32Array
  /** 1 for what tells again of an order that the visitor had before: it counts nowhere. */
  isRepeat: Uint8Array
  /** Number of `extras`; 0 for none. */
  extra: Uint32Array
}
type Runs = Pick<Block, 'runs' | 'runSession' | 'runVisitor' | 'runStart'>
type Column = Exclude<keyof Block, 'count' | keyof Runs>

const COLUMNS: Record<Column, (length: number) => Block[Column]> = {
  visitor: (length) => new Uint32Array(length),
  session: (length) => new Uint32Array(length),
  at: (length) => new Float64Array(length),
  kind: (length) => new Uint8Array(length),
  address: (length) => new Uint32Array(length),
  element: (length) => new Uint32Array(length),
  name: (length) => new Uint32Array(length),
  x: (length) => new Int32Array(length),
  y: (length) => new Int32Array(length),
  value: (length) => new Float64Array(length),
  detail: (length) => new Uint32Array(length),
  once: (length) => new Uint32Array(length),
  isRepeat: (length) => new Uint8Array(length),
  extra: (length) => new Uint32Array(length),
}
const COLUMN_NAMES = Object.keys(COLUMNS) as Column[]

function emptyBlock(length: number): Block {
  const columns = Object.fromEntries(COLUMN_NAMES.map((name) => [name, COLUMNS[name](length)]))
  const none = { runs: Uint32Array.of(0), runSession: new Uint32Array(0), runVisitor: new Uint32Array(0) }
  return { count: 0, ...none, runStart: new Float64Array(0), ...(columns as Pick<Block, Column>) }
}

/**
 * Everything that visitors of a site did, in columns of numbers in memory: all reports are one pass over it. Steps may
 * come in any order and in any portions.
 */
export class Visits {
  readonly addresses = new Dictionary()
  readonly elements = new Dictionary()
  readonly names = new Dictionary()
  readonly dimensions = Object.fromEntries(DIMENSIONS.map((each) => [each, new Dictionary()])) as Record<
    Dimension,
    Dictionary
  >
  /** Label that was last told of an element. */
  readonly labels = new Map<number, string>()
  readonly extras: unknown[] = [null]
  /** Page of each address: its path, with its host where that is not the site's. */
  readonly pages = new Dictionary()
  readonly pageOfAddress = new Growing((length) => new Uint32Array(length))

  readonly visitorIds: string[] = []
  /** 1 for visitors who are in nobody's numbers. */
  readonly isLeftOut = new Growing((length) => new Uint8Array(length))
  sessionCount = 0
  readonly sessionIds: string[] = []
  readonly sessionVisitor = new Growing((length) => new Uint32Array(length))
  /** Of its first view; Infinity for a session without any, which is in no report. */
  readonly sessionStart = new Growing((length) => new Float64Array(length))
  readonly sessionWidth = new Growing((length) => new Uint32Array(length))
  readonly sessionDimensions = Object.fromEntries(
    DIMENSIONS.map((each) => [each, new Growing((length: number) => new Uint32Array(length))]),
  ) as Record<Dimension, Growing<Uint32Array<ArrayBuffer>>>
  /** What pages said of visitors, as `attributeText` writes it, and the sessions in which they said so. */
  readonly attributes = new Dictionary()
  readonly sessionAttributes = new Map<number, Set<number>>()
  steps = 0

  private readonly visitors = new Map<string, number>()
  private readonly sessions = new Map<string, number>()
  private readonly onceKeys = new Dictionary()
  private readonly merged: Block[] = []
  private readonly waiting: (Block | undefined)[] = []

  /** @param siteHost - host of the site, which pages are named without */
  constructor(private readonly siteHost: string) {}

  get visitorCount(): number {
    return this.visitorIds.length
  }

  /** Number of a visitor that is known. */
  visitorOf(id: string): number | undefined {
    return this.visitors.get(id)
  }

  /** Number of a session that is known. */
  sessionOf(visitorId: string, id: string): number | undefined {
    return this.sessions.get(`${this.visitors.get(visitorId)} ${id}`)
  }

  leaveOut(id: string, isOut: boolean): void {
    const visitor = this.visitors.get(id)
    if (visitor !== undefined) this.isLeftOut.set(visitor, isOut ? 1 : 0)
  }

  add(step: Step): void {
    const visitor = this.numberOfVisitor(step.visitor)
    const session = this.numberOfSession(visitor, step.session)
    const address = this.numberOfAddress(step.address)
    if (step.kind === 'page' && step.circumstances && step.at < this.sessionStart.values[session]!)
      this.beginSession(session, step, address)
    if (step.attributes) this.addAttributes(session, step.attributes)
    const element = this.elements.numberOf(step.element ?? null)
    if (element !== 0 && step.label) this.labels.set(element, step.label)
    const block = this.roomFor(Math.floor(visitor / VISITORS_IN_BLOCK))
    const row = block.count++
    block.visitor[row] = visitor
    block.session[row] = session
    block.at[row] = step.at
    block.kind[row] = KIND[step.kind]
    block.address[row] = address
    block.element[row] = element
    block.name[row] = this.names.numberOf(step.name ?? null)
    block.x[row] = step.x ?? 0
    block.y[row] = step.y ?? 0
    block.value[row] = step.value ?? 0
    block.detail[row] = step.detail ?? 0
    block.once[row] = this.onceKeys.numberOf(step.once ?? null)
    if (step.extra !== undefined) {
      block.extra[row] = this.extras.length
      this.extras.push(step.extra)
    }
    this.steps++
  }

  /** All steps in their order. What has come since the last time is put in its place first. */
  blocks(): readonly Block[] {
    this.waiting.forEach((added, index) => {
      if (added) this.merged[index] = mergeBlocks(this.merged[index], added)
      this.waiting[index] = undefined
    })
    return this.merged.filter(Boolean)
  }

  private numberOfVisitor(id: string): number {
    let number = this.visitors.get(id)
    if (number === undefined) {
      number = this.visitorIds.length
      this.visitors.set(id, number)
      this.visitorIds.push(id)
      this.isLeftOut.set(number, 0)
    }
    return number
  }

  private numberOfSession(visitor: number, id: string): number {
    const key = `${visitor} ${id}`
    let number = this.sessions.get(key)
    if (number === undefined) {
      number = this.sessionCount++
      this.sessions.set(key, number)
      this.sessionIds.push(id)
      this.sessionVisitor.set(number, visitor)
      this.sessionStart.set(number, Infinity)
      this.sessionWidth.set(number, 0)
      for (const each of DIMENSIONS) this.sessionDimensions[each].set(number, 0)
    }
    return number
  }

  private beginSession(session: number, { at, circumstances = [], windowWidth = 0 }: Step, address: number): void {
    this.sessionStart.set(session, at)
    this.sessionWidth.set(session, windowWidth)
    const landing = this.pages.texts[this.pageOfAddress.values[address]!]!
    DIMENSIONS.forEach((name, index) => {
      const value = name === 'landing' ? landing : (circumstances[index] ?? null)
      this.sessionDimensions[name].set(session, this.dimensions[name].numberOf(value))
    })
  }

  private addAttributes(session: number, told: Readonly<Record<string, unknown>>): void {
    const own = this.sessionAttributes.get(session) ?? new Set()
    this.sessionAttributes.set(session, own)
    for (const [name, value] of Object.entries(told)) own.add(this.attributes.numberOf(attributeText(name, value)))
  }

  private numberOfAddress(text: string): number {
    const number = this.addresses.numberOf(text)
    if (number >= this.pageOfAddress.values.length || this.pageOfAddress.values[number] === 0)
      this.pageOfAddress.set(number, this.pages.numberOf(pageName(text, this.siteHost)))
    return number
  }

  private roomFor(index: number): Block {
    const block = this.waiting[index] ?? emptyBlock(256)
    this.waiting[index] = block
    if (block.count < block.at.length) return block
    const larger = emptyBlock(block.at.length * 2)
    for (const name of COLUMN_NAMES) larger[name].set(block[name] as never)
    larger.count = block.count
    this.waiting[index] = larger
    return larger
  }
}

/** What a page said of a visitor, in one text: plan=gold. */
export function attributeText(name: string, value: unknown): string {
  return `${name}=${String(value)}`
}

/** The page of an address: its path, with its host where that is not the site's. */
export function pageName(address: string, siteHost: string): string {
  const [, host = '', path = '/'] = /^\w+:\/\/([^/?#]*)([^?#]*)/.exec(address) ?? []
  return host === siteHost ? path || '/' : host + path
}

/** Steps of both in one block, by visitor, session (in the order in which they began) and time; then as they came. */
function mergeBlocks(before: Block | undefined, added: Block): Block {
  const beforeCount = before?.count ?? 0
  const total = beforeCount + added.count
  const read = (name: 'visitor' | 'session' | 'at', row: number) =>
    row < beforeCount ? before![name][row]! : added[name][row - beforeCount]!
  const began = new Map<number, number>()
  for (let row = 0; row < total; row++) {
    const session = read('session', row)
    began.set(session, Math.min(began.get(session) ?? Infinity, read('at', row)))
  }
  const keys = new Float64Array(total)
  const visitors = new Uint32Array(total)
  const sessions = new Uint32Array(total)
  const times = new Float64Array(total)
  for (let row = 0; row < total; row++) {
    visitors[row] = read('visitor', row)
    sessions[row] = read('session', row)
    times[row] = read('at', row)
    keys[row] = began.get(sessions[row]!)!
  }
  const order = Uint32Array.from({ length: total }, (_, row) => row)
  order.sort(
    (a, b) =>
      visitors[a]! - visitors[b]! ||
      keys[a]! - keys[b]! ||
      sessions[a]! - sessions[b]! ||
      times[a]! - times[b]! ||
      a - b,
  )
  const block = emptyBlock(total)
  block.count = total
  for (const name of COLUMN_NAMES) {
    const [from, to, target] = [before?.[name], added[name], block[name]]
    for (let row = 0; row < total; row++) {
      const source = order[row]!
      target[row] = source < beforeCount ? from![source]! : to[source - beforeCount]!
    }
  }
  markRepeats(block)
  return { ...block, ...runsOf(block) }
}

function runsOf({ count, session, visitor, kind, at }: Block): Runs {
  const firsts: number[] = []
  const starts: number[] = []
  for (let row = 0; row < count; row++) {
    if (row === 0 || session[row] !== session[row - 1]) starts[firsts.push(row) - 1] = Infinity
    const run = firsts.length - 1
    if (kind[row] === KIND.page && starts[run] === Infinity) starts[run] = at[row]!
  }
  return {
    runs: Uint32Array.from([...firsts, count]),
    runSession: Uint32Array.from(firsts, (row) => session[row]!),
    runVisitor: Uint32Array.from(firsts, (row) => visitor[row]!),
    runStart: Float64Array.from(starts),
  }
}

function markRepeats({ count, visitor, at, once, isRepeat }: Block): void {
  let first = new Map<number, number>()
  for (let row = 0; row < count; row++) {
    if (row > 0 && visitor[row] !== visitor[row - 1] && first.size > 0) first = new Map()
    const key = once[row]!
    isRepeat[row] = 0
    if (key === 0) continue
    const other = first.get(key)
    if (other === undefined) first.set(key, row)
    else if (at[row]! < at[other]!) {
      isRepeat[other] = 1
      first.set(key, row)
    } else isRepeat[row] = 1
  }
}

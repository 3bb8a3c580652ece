import type { CollectReply } from '../../shared/delivery/replies'
import { ValidationError, type InferType } from 'yup'
import { assign, isInTest, type AssignmentPlan } from '../../core/assignment/assignment'
import { PERSON } from '../../core/identity/personId'
import { provenPerson } from '../../core/identity/provenPerson'
import { timeOfId } from '../../core/identity/timeOrderedId'
import { roundAmount } from '../../core/measurement/money'
import { addressText, campaignOf, keptAddress } from '../../core/targeting/address'
import {
  collectedBatchSchema,
  collectedEvent,
  collectedView,
  LARGEST_BATCH,
  OLDEST_EVENT,
  OLDEST_VIEW,
  type CollectedEvent,
  type CollectedView,
} from '../../shared/intake/collect'
import { DRIFT_SALT, DRIFT_SHARE } from '../../shared/intake/drift'
import { isInNetworks, type Network } from '../http/clientAddress'
import { contentDigest } from './contentDigest'
import { onceKey } from './onceKey'
import type { FindPlace } from './place'
import type { EventRow, ViewRow } from './rows'
import type { TrafficLimits } from './trafficLimits'
import { readUserAgent } from './userAgent'
import { contentKey, type Arrival } from './writeArrivals'

/** How far the id of an event may lie after the sending: ids of one page run on by themselves when its clock is set back. */
const TOLERATED_FUTURE = 60_000

/** How an experiment that was started assigns visitors, or persons. */
export type StartedPlan = AssignmentPlan & {
  unit?: 'person'
  /** Of a split that moves, the weights of each of its periods. */
  periods?: readonly (readonly number[])[]
}

/** What intake needs to know about the site that a batch names. */
export interface IntakeSite {
  id: number
  address: string
  currency: string
  largestAmount: number
  /** Query parameters that may be kept. */
  parameters: ReadonlySet<string>
  /** What pages say of their visitors that may be kept. */
  attributes: ReadonlySet<string>
  /** Names of what pages say of their events that is kept. */
  eventDetails: ReadonlySet<string>
  /** Other hosts with pages of the site. */
  hosts: readonly string[]
  ownNetworks: readonly Network[]
  /** How visitors are assigned, by experiment that has been started. */
  assignments: ReadonlyMap<number, StartedPlan>
  /** Of the visitors, those whose sessions are recorded, in buckets of 10,000. */
  recordingShare: number
  /** By which the site's own server proves who somebody is; null where persons need no proof. */
  personKey: string | null
  /** Whether any visitor has reported before. */
  hasReported: boolean
}

/** A batch that is not taken at all, with the HTTP status that says so. */
export class RefusedBatch extends Error {
  constructor(
    readonly status: 400 | 403 | 404 | 413 | 429,
    message: string,
    /** The site that it was for, where that is known. */
    readonly siteId: number | null = null,
  ) {
    super(message)
  }
}

export interface IncomingRequest {
  body: string
  /** The `Origin` header, if any. */
  origin: string | null
  /** Address that the request came from; looked up and forgotten. */
  address: string
  userAgent: string
  receivedAt: Date
}

/** What intake does beyond itself. */
export interface CollectPorts {
  /** Finds the site of a key; `fresh` asks again even if it was just found. */
  findSite: (key: string, fresh?: boolean) => Promise<IntakeSite | null>
  /** Writes and returns after the commit, with the keys of what was refused; see `writeArrivals`. */
  write: (arrival: Arrival) => Promise<Set<string>>
  isKnownVisitor: (siteId: number, visitor: string) => Promise<boolean>
  limits: TrafficLimits
  findPlace: FindPlace
  /** Hash of a network with the salt of a day. */
  hashNetwork: (address: string, day: Date) => string
}

/** What became of a batch. */
export interface Collected {
  site: IntakeSite
  reply: CollectReply
  /** Visitor of the latest view that was taken; null without one. */
  visitor: string | null
}

const TOO_MUCH = 'Too much comes at once. Send the batch again later.'
const OTHER_CONTENT = 'something else was sent under this id before'

/**
 * Takes a batch of views and events: checks them, and writes what can be taken.
 *
 * @throws RefusedBatch when nothing of it can be taken
 */
export async function collect(request: IncomingRequest, ports: CollectPorts): Promise<Collected> {
  if (Buffer.byteLength(request.body) > LARGEST_BATCH) {
    throw new RefusedBatch(413, `A batch holds at most ${LARGEST_BATCH} bytes.`)
  }
  const network = ports.hashNetwork(request.address, request.receivedAt)
  if (!ports.limits.maySend(network, Buffer.byteLength(request.body), request.receivedAt.getTime()))
    throw new RefusedBatch(429, TOO_MUCH)
  const batch = parseBatch(request.body)
  let site = await ports.findSite(batch.key)
  if (!site) throw new RefusedBatch(404, 'No site has this key.')
  if (!isOwnOrigin(request.origin, site)) {
    throw new RefusedBatch(403, 'Events of this site are taken from its own pages only.', site.id)
  }
  let taken = takeWhatIsRight(request, batch, site, ports)
  // What was started a moment ago, or whose share was raised, is exposed already.
  if (taken.hasStrangeExposure) {
    site = (await ports.findSite(batch.key, true)) ?? site
    taken = takeWhatIsRight(request, batch, site, ports)
  }
  await checkLimits(taken, site, network, ports, request.receivedAt.getTime())
  for (const view of taken.arrival.views) view.network = network

  const { arrival, reply } = taken
  const refused = arrival.views.length > 0 ? await ports.write(arrival) : new Set<string>()
  for (const row of [...arrival.views, ...arrival.events]) {
    if (refused.has(contentKey(row))) reply.refused.push({ id: row.id, why: OTHER_CONTENT })
    else reply.accepted++
  }
  return { site, reply, visitor: arrival.views.at(-1)?.visitorId ?? null }
}

function takeWhatIsRight(
  request: IncomingRequest,
  batch: Batch,
  site: IntakeSite,
  ports: Pick<CollectPorts, 'findPlace'>,
): Taking {
  const taken = new Taking(request, site, batch.sent)
  for (const view of batch.views) taken.addView(view, ports)
  for (const event of batch.events) taken.addEvent(event)
  return taken
}

/** Checks what a batch brings and gathers what can be taken. */
class Taking {
  /** An exposure is not one that the site as it is known here would give. */
  hasStrangeExposure = false
  readonly arrival: Arrival = { views: [], events: [] }
  readonly reply: CollectReply = { accepted: 0, refused: [] }
  private readonly views = new Map<string, ViewRow>()

  constructor(
    private readonly request: IncomingRequest,
    private readonly site: IntakeSite,
    private readonly sent: number,
  ) {}

  addView(incoming: unknown, ports: Pick<CollectPorts, 'findPlace'>): void {
    const problem = collectedView.problem(incoming)
    if (problem) return this.refuse(incoming, problem)
    const view = incoming as CollectedView
    const why = this.timeProblem(view.id, OLDEST_VIEW)
    if (why) return this.refuse(incoming, why)
    const row = viewRow(view, this.request, this.site, this.sent, ports.findPlace)
    if (typeof row === 'string') return this.refuse(incoming, row)
    this.views.set(row.id, row)
    this.arrival.views.push(row)
  }

  addEvent(incoming: unknown): void {
    const problem = collectedEvent.problem(incoming)
    if (problem) return this.refuse(incoming, problem)
    const event = incoming as CollectedEvent
    const view = this.views.get(event.view)
    if (!view) return this.refuse(incoming, 'its page view is not in the batch, or was refused')
    const exposure = exposureProblem(event, view, this.site)
    if (exposure !== null && event.type === 'exposure') this.hasStrangeExposure = true
    const why = this.timeProblem(event.id, OLDEST_EVENT) ?? exposure ?? amountProblem(event, this.site)
    if (why) return this.refuse(incoming, why)
    this.arrival.events.push(eventRow(event, view, this.site))
  }

  private timeProblem(id: string, oldest: number): string | null {
    const age = this.sent - timeOfId(id)
    if (age > oldest) return 'it is too old'
    return age < -TOLERATED_FUTURE ? 'its id is of a time after it was sent' : null
  }

  private refuse(incoming: unknown, why: string): void {
    this.reply.refused.push({ id: idOf(incoming), why })
  }
}

type Batch = InferType<typeof collectedBatchSchema>

function parseBatch(body: string): Batch {
  try {
    return collectedBatchSchema.validateSync(JSON.parse(body), { strict: true })
  } catch (error) {
    const why = error instanceof ValidationError ? error.message : 'it is not JSON'
    throw new RefusedBatch(400, `The batch cannot be read: ${why}.`)
  }
}

async function checkLimits(
  { arrival }: Taking,
  site: IntakeSite,
  network: string,
  { limits, isKnownVisitor }: CollectPorts,
  now: number,
): Promise<void> {
  const visitors = new Map<string, number>()
  const count = (unit: string) => visitors.set(unit, (visitors.get(unit) ?? 0) + 1)
  for (const { visitorId, personId } of [...arrival.views, ...arrival.events]) {
    count(visitorId)
    // Persons count as visitors do where they are one unit: one browser must not make up any number of them.
    if (personId !== null) count(PERSON + personId)
  }
  for (const [visitor, events] of visitors) {
    const key = `${site.id} ${visitor}`
    const isTaken =
      (await limits.mayBegin(key, `${site.id} ${network}`, () => isKnownVisitor(site.id, visitor), now)) &&
      limits.mayReport(key, events, now)
    if (!isTaken) throw new RefusedBatch(429, TOO_MUCH, site.id)
  }
}

/**
 * A page view as it is written.
 *
 * @param sent - the browser's clock at the sending
 * @returns why it cannot be taken, in words, instead
 */
export function viewRow(
  view: CollectedView,
  request: Pick<IncomingRequest, 'address' | 'userAgent' | 'receivedAt'>,
  site: Pick<IntakeSite, 'id' | 'address' | 'hosts' | 'parameters' | 'attributes' | 'ownNetworks' | 'personKey'>,
  sent: number,
  findPlace: FindPlace,
): ViewRow | string {
  const kept = keptAddress(view.address, site.parameters)
  if (!kept) return 'address is not one of the web'
  if (!isOwnOrigin(new URL(view.address).origin, site)) return 'address is not one of the site’s'
  const { isRobot, ...agent } = readUserAgent(request.userAgent)
  const [source, medium, name, term, content] = campaignOf(kept.query)
  return {
    siteId: site.id,
    visitorId: view.visitor,
    id: view.id,
    madeAt: timeOfId(view.id),
    offset: request.receivedAt.getTime() - sent,
    receivedAt: request.receivedAt,
    sessionId: view.session,
    address: addressText(kept, new URL(view.address).protocol),
    title: view.title ?? null,
    visit: view.visit ?? null,
    ...agent,
    language: view.language ?? null,
    timeZone: view.timeZone ?? null,
    ...findPlace(request.address),
    referrerHost: foreignHost(view.referrer, kept.host),
    campaignSource: source ?? null,
    campaignMedium: medium ?? null,
    campaign: name ?? null,
    campaignTerm: term ?? null,
    campaignContent: content ?? null,
    screenWidth: view.screen?.[0] ?? null,
    screenHeight: view.screen?.[1] ?? null,
    windowWidth: view.window?.[0] ?? null,
    windowHeight: view.window?.[1] ?? null,
    attributes: keptOf(view.attributes, site.attributes),
    personId: provenPerson(view.person, site.personKey),
    network: null,
    isTeam: isInNetworks(request.address, site.ownNetworks),
    isRobot,
    digest: contentDigest(view),
  }
}

/** Of what a page says of its visitor or of an event, what the site keeps. */
function keptOf(told: CollectedView['attributes'], kept: ReadonlySet<string>): EventRow['details'] {
  const own = Object.entries(told ?? {}).filter(([name]) => kept.has(name))
  return own.length > 0 ? Object.fromEntries(own) : null
}

/** An event of a page view as it is written. */
export function eventRow(
  event: CollectedEvent,
  view: ViewRow,
  site: Pick<IntakeSite, 'id' | 'currency' | 'eventDetails' | 'personKey'>,
): EventRow {
  const hasAmount = event.amount !== undefined && carriesAmount(event)
  const currency = hasAmount ? (event.currency ?? site.currency) : null
  const amount = hasAmount ? roundAmount(event.amount!, currency!) : null
  const isExposure = event.type === 'exposure'
  const isOfExperiment = isExposure || event.type === 'drift'
  const reference = carriesAmount(event) ? (event.reference ?? null) : null
  return {
    siteId: site.id,
    visitorId: view.visitorId,
    id: event.id,
    madeAt: timeOfId(event.id),
    offset: view.offset,
    viewId: view.id,
    receivedAt: view.receivedAt,
    type: event.type,
    experimentId: isOfExperiment ? event.experiment! : null,
    variant: isExposure ? event.variant! : null,
    period: isExposure ? (event.period ?? null) : null,
    shownAfter: isExposure ? (event.shownAfter ?? null) : null,
    element: event.element ?? null,
    label: event.label ?? null,
    pageX: event.at?.[0] ?? null,
    pageY: event.at?.[1] ?? null,
    elementX: event.within?.[0] ?? null,
    elementY: event.within?.[1] ?? null,
    name: event.name ?? null,
    amount,
    currency,
    reference,
    once: onceKey({
      type: event.type,
      name: event.name ?? '',
      reference,
      amount,
      session: view.sessionId,
      address: view.address,
    }),
    properties: event.properties ?? null,
    details: event.type === 'custom' ? keptOf(event.details, site.eventDetails) : null,
    personId: provenPerson(event.person, site.personKey) ?? view.personId,
    digest: contentDigest(event),
  }
}

function carriesAmount({ type }: CollectedEvent): boolean {
  return type === 'amount' || type === 'custom'
}

function amountProblem(event: CollectedEvent, { largestAmount }: IntakeSite): string | null {
  const isTooLarge = carriesAmount(event) && Math.abs(event.amount ?? 0) > largestAmount
  return isTooLarge ? 'amount is larger than the site allows' : null
}

/**
 * Who sees what is no secret and can be computed: an exposure that the assignment would not give is made up, and so is
 * what a browser tells of elements that it was not asked to look for.
 */
function exposureProblem(event: CollectedEvent, view: ViewRow, site: IntakeSite): string | null {
  if (event.type !== 'exposure' && event.type !== 'drift') return null
  const plan = site.assignments.get(event.experiment ?? 0)
  if (!plan) return 'experiment is not one that the site has started'
  if (event.type === 'drift')
    return isInTest(view.visitorId, { salt: DRIFT_SALT, share: DRIFT_SHARE })
      ? null
      : 'visitor is not one of those who look'
  const unit = plan.unit === 'person' ? provenPerson(event.person, site.personKey) : view.visitorId
  if (unit === null) return event.person ? 'the person is not proved' : 'nobody knows which person it is of'
  const weights = plan.periods ? plan.periods[event.period ?? -1] : plan.weights
  if (!weights) return 'period is not one of this experiment'
  const drawn = assign(unit, { ...plan, weights })
  return drawn === event.variant ? null : 'variant is not the one that this visitor is assigned'
}

function idOf(incoming: unknown): string | null {
  const hasId = incoming && typeof incoming === 'object' && 'id' in incoming && typeof incoming.id === 'string'
  return hasId ? String(incoming.id).slice(0, 64) : null
}

/** Host of a page that led here, unless it is the same site's. */
function foreignHost(referrer: string | undefined, own: string): string | null {
  if (!referrer || !URL.canParse(referrer)) return null
  const { host, protocol } = new URL(referrer)
  return /^https?:$/.test(protocol) && host !== own ? host.slice(0, 255) : null
}

/** Whether an origin is the site's own, one of its subdomains' on the same port, or one of its other hosts'. */
export function isOwnOrigin(origin: string | null, { address, hosts }: Pick<IntakeSite, 'address' | 'hosts'>): boolean {
  if (!origin || !URL.canParse(origin)) return false
  return isSameSite(new URL(origin), new URL(address)) || hosts.includes(new URL(origin).host)
}

function isSameSite(one: URL, other: URL): boolean {
  const parent = other.hostname.replace(/^www\./, '')
  return one.port === other.port && (one.hostname === parent || one.hostname.endsWith(`.${parent}`))
}

import { EventType, IncrementalSource, type eventWithTime } from '@rrweb/types'

interface Serialized {
  tagName?: string
  attributes?: Record<string, unknown>
  childNodes?: Serialized[]
}

/** What makes a browser fetch something, or go elsewhere, whatever its policy says of pictures and styles. */
const FETCHING = new Set(['src', 'rr_src', 'srcdoc', 'data', 'http-equiv', 'ping', 'background', 'manifest'])
/** Of them, those whose addresses are followed; a link of a line is followed by nobody. */
const FOLLOWED = new Set(['link', 'base', 'use', 'image', 'feimage'])

/**
 * The events of a recording without what would make the browser of whoever plays it ask anybody for anything:
 * recordings are sent by strangers, who may make them up.
 *
 * @param events - as they were recorded; they are left as they are
 * @param styleSheets - what style sheets of other hosts say, by their addresses, to stand in the place of their links
 */
export function harmlessEvents(
  events: readonly eventWithTime[],
  styleSheets: ReadonlyMap<string, string> = new Map(),
): eventWithTime[] {
  const clean = (node: Serialized) =>
    forEachElement(node, (element) => {
      const address = linkedStyleSheet(element)
      const content = address === null ? undefined : styleSheets.get(address)
      withoutFetching(element.attributes ?? {}, FOLLOWED.has(String(element.tagName).toLowerCase()))
      // The recorder says so what a sheet says that it could read.
      if (content !== undefined) element.attributes!._cssText = content
    })
  return structuredClone(events as eventWithTime[]).map((event) => {
    if (event.type === EventType.FullSnapshot) clean(event.data.node as Serialized)
    if (event.type === EventType.IncrementalSnapshot && event.data.source === IncrementalSource.Mutation) {
      event.data.adds.forEach(({ node }) => clean(node as Serialized))
      // Of which element it is is not said.
      event.data.attributes.forEach(({ attributes }) => withoutFetching(attributes, true))
    }
    return event
  })
}

/** Addresses of style sheets that the recorder could not read, each once. */
export function unreadStyleSheets(events: readonly eventWithTime[]): string[] {
  const found = new Set<string>()
  const note = (node: Serialized) =>
    forEachElement(node, (element) => {
      const address = linkedStyleSheet(element)
      if (address !== null) found.add(address)
    })
  for (const event of events) {
    if (event.type === EventType.FullSnapshot) note(event.data.node as Serialized)
    if (event.type === EventType.IncrementalSnapshot && event.data.source === IncrementalSource.Mutation)
      event.data.adds.forEach(({ node }) => note(node as Serialized))
  }
  return [...found]
}

function linkedStyleSheet({ tagName, attributes = {} }: Serialized): string | null {
  const { rel, href, _cssText } = attributes
  const isSheet = String(tagName).toLowerCase() === 'link' && /(^|\s)stylesheet(\s|$)/i.test(String(rel ?? ''))
  return isSheet && typeof href === 'string' && _cssText === undefined ? href : null
}

function forEachElement(node: Serialized, look: (element: Serialized) => void): void {
  look(node)
  node.childNodes?.forEach((each) => forEachElement(each, look))
}

function withoutFetching(attributes: Record<string, unknown>, isFollowed: boolean): void {
  for (const name of Object.keys(attributes)) {
    const plain = name.toLowerCase()
    if (FETCHING.has(plain) || (isFollowed && plain.endsWith('href'))) Reflect.deleteProperty(attributes, name)
  }
}

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
 */
export function harmlessEvents(events: readonly eventWithTime[]): eventWithTime[] {
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

function clean({ tagName, attributes, childNodes }: Serialized): void {
  if (attributes) withoutFetching(attributes, FOLLOWED.has(String(tagName).toLowerCase()))
  childNodes?.forEach(clean)
}

function withoutFetching(attributes: Record<string, unknown>, isFollowed: boolean): void {
  for (const name of Object.keys(attributes)) {
    const plain = name.toLowerCase()
    if (FETCHING.has(plain) || (isFollowed && plain.endsWith('href'))) Reflect.deleteProperty(attributes, name)
  }
}

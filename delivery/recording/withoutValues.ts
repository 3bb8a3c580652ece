import { jsonText } from '../snippet/jsonText'
import { EventType, IncrementalSource, type eventWithTime } from '@rrweb/types'
import { keptAddress } from '../../core/targeting/address'

const MASK = '•••'
const NO_PARAMETERS: ReadonlySet<string> = new Set()
/** Buttons say what the page says; everything else that an input holds is its visitor's. */
const SAYS_ITSELF = /^(button|submit|reset|image)$/i
const TEXT_ATTRIBUTES = ['placeholder', 'title', 'alt', 'aria-label']

interface Serialized {
  tagName?: string
  attributes?: Record<string, unknown>
  childNodes?: Serialized[]
}

/**
 * An event of the recorder as text, without anything that was typed or chosen. The recorder masks what inputs hold; this
 * also takes out what it leaves: values that the page was served with, choices of boxes, and queries of addresses, in
 * which pages hand on what was typed before.
 */
export function withoutValues(event: eventWithTime, masksText: boolean): string {
  if (event.type === EventType.Meta) {
    const kept = keptAddress(event.data.href, NO_PARAMETERS)
    event.data.href = kept ? `//${kept.host}${kept.path}` : ''
  } else if (event.type === EventType.FullSnapshot) clean(event.data.node as Serialized, masksText)
  else if (event.type === EventType.IncrementalSnapshot) {
    const { data } = event
    if (data.source === IncrementalSource.Input) data.isChecked = false
    if (data.source === IncrementalSource.Mutation) {
      data.adds.forEach(({ node }) => clean(node as Serialized, masksText))
      data.attributes.forEach(({ attributes }) => {
        if ('checked' in attributes) attributes.checked = null
        if (typeof attributes.value === 'string' && attributes.value) attributes.value = MASK
      })
    }
  }
  const text = jsonText(event)
  const { search } = location
  return search.length > 1 ? text.split(jsonText(search).slice(1, -1)).join('') : text
}

function clean({ tagName, attributes, childNodes }: Serialized, masksText: boolean): void {
  if (attributes && tagName) {
    const isTyped = tagName === 'input' && !SAYS_ITSELF.test(String(attributes.type ?? 'text'))
    if ((isTyped || tagName === 'textarea') && attributes.value) attributes.value = MASK
    if (tagName === 'input') delete attributes.checked
    if (masksText) for (const name of TEXT_ATTRIBUTES) if (attributes[name]) attributes[name] = MASK
  }
  childNodes?.forEach((child) => clean(child, masksText))
}

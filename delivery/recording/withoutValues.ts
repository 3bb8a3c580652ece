import { jsonText } from '../snippet/jsonText'
import { EventType, IncrementalSource, type eventWithTime } from '@rrweb/types'
import { keptAddress } from '../../core/targeting/address'
import { nativeDocument } from '../native'

const MASK = '•••'
const NO_PARAMETERS: ReadonlySet<string> = new Set()
/** Buttons say what the page says; everything else that an input holds is its visitor's. */
const SAYS_ITSELF = /^(button|submit|reset|image)$/i
const TEXT_ATTRIBUTES = ['placeholder', 'title', 'alt', 'aria-label']
/** Attributes that hold an address, in whose query pages hand on what was typed. */
const ADDRESSES = /^(href|src|action|formaction|poster|data|cite|background|ping|rr_src|xlink:href)$/
/** Attributes that say something: in others what was typed is there by chance. */
const SAYING = /^(data-|aria-)|^(title|alt|label|content|value)$/
/** Addresses of people, not of pages. */
const OF_PEOPLE = /^(mailto|tel|sms|callto):/i
/** What is shorter is in many texts by chance. */
const SHORTEST_TYPED = 3

interface Serialized {
  tagName?: string
  attributes?: Record<string, unknown>
  childNodes?: Serialized[]
}

/**
 * An event of the recorder as text, without anything that was typed or chosen. The recorder masks what inputs hold; this
 * also takes out what it leaves: values that the page was served with, choices of boxes, queries of addresses, in which
 * pages hand on what was typed before, addresses of people, and attributes in which a page repeats what is typed.
 */
export function withoutValues(event: eventWithTime, masksText: boolean): string {
  if (event.type === EventType.Meta) {
    const kept = keptAddress(event.data.href, NO_PARAMETERS)
    event.data.href = kept ? `//${kept.host}${kept.path}` : ''
  } else if (event.type === EventType.FullSnapshot) clean(event.data.node as Serialized, masksText, typedNow())
  else if (event.type === EventType.IncrementalSnapshot) {
    const { data } = event
    if (data.source === IncrementalSource.Input) {
      data.isChecked = false
      // Of a box or a choice the recorder tells the value.
      if (data.text !== MASK) data.text = ''
    }
    if (data.source === IncrementalSource.Mutation) {
      const typed = typedNow()
      data.adds.forEach(({ node }) => clean(node as Serialized, masksText, typed))
      data.attributes.forEach(({ attributes }) => {
        if ('checked' in attributes) attributes.checked = null
        if (typeof attributes.value === 'string' && attributes.value) attributes.value = MASK
        withoutMirrored(attributes, typedNow())
      })
    }
  }
  const text = jsonText(event)
  const { search } = location
  return search.length > 1 ? text.split(jsonText(search).slice(1, -1)).join('') : text
}

/** What stands in the fields of the page at the moment. */
function typedNow(): string[] {
  return [...nativeDocument.querySelectorAll<HTMLInputElement | HTMLTextAreaElement>('input,textarea')]
    .filter(({ type }) => !SAYS_ITSELF.test(type))
    .map(({ value }) => value)
    .filter(({ length }) => length >= SHORTEST_TYPED)
}

/** Addresses without what they hand on, and attributes without what somebody has typed. */
function withoutMirrored(attributes: Record<string, unknown>, typed: readonly string[]): void {
  for (const [name, value] of Object.entries(attributes)) {
    if (typeof value !== 'string' || value === MASK) continue
    if (ADDRESSES.test(name) && !value.startsWith('data:'))
      attributes[name] = OF_PEOPLE.exec(value)?.[0] ?? value.replace(/[?#].*$/s, '')
    else if (name === 'srcset') attributes[name] = value.replace(/\?[^\s,]*/g, '')
    else if (SAYING.test(name) && typed.some((each) => value.includes(each))) attributes[name] = MASK
  }
}

function clean({ tagName, attributes, childNodes }: Serialized, masksText: boolean, typed: readonly string[]): void {
  if (attributes && tagName) {
    const isTyped = tagName === 'input' && !SAYS_ITSELF.test(String(attributes.type ?? 'text'))
    if ((isTyped || tagName === 'textarea') && attributes.value) attributes.value = MASK
    if (tagName === 'input') delete attributes.checked
    withoutMirrored(attributes, typed)
    if (masksText) for (const name of TEXT_ATTRIBUTES) if (attributes[name]) attributes[name] = MASK
  }
  childNodes?.forEach((child) => clean(child, masksText, typed))
}

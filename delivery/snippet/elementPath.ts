import { KEPT_ATTRIBUTES } from '../../core/measurement/keptAttributes'
import { keptAddress } from '../../core/targeting/address'
import { safely } from './safely'

const LONGEST = 1900
const MOST_CLASSES = 12
const LONGEST_LABEL = 100
const NO_PARAMETERS: ReadonlySet<string> = new Set()

/**
 * Reads a property as the browser defines it. A form answers with its fields for their names: `form.children` may be an
 * input of that name.
 */
function reader<Owner, Key extends keyof Owner>(prototype: Owner, key: Key): (of: Owner) => Owner[Key] {
  const get = Object.getOwnPropertyDescriptor(prototype, key)!.get!
  return (of) => get.call(of) as Owner[Key]
}
const parentOf = reader(Node.prototype as Element, 'parentElement')
const childrenOf = reader(Element.prototype, 'children')
const idOf = reader(Element.prototype, 'id')
const tagOf = reader(Element.prototype, 'localName')
const classListOf = reader(Element.prototype, 'classList')
const { getAttribute, closest }: Pick<Element, 'getAttribute' | 'closest'> = Element.prototype

/** The path of an element from the body inward; see `core/measurement/elementPath.ts`. */
export function elementPath(element: Element): string {
  let path = ''
  for (let each: Element | null = element; each && each !== document.documentElement; each = parentOf(each)) {
    const step = stepOf(each)
    if (path.length + step.length > LONGEST) break
    path = path ? `${step}>${path}` : step
  }
  return path
}

function stepOf(element: Element): string {
  if (element === document.body) return `body${classesOf(element)}`
  const tag = tagOf(element)
  const id = idOf(element)
  const parent = parentOf(element)
  const siblings = parent ? [...childrenOf(parent)] : [element]
  const ofType = siblings.filter((each) => tagOf(each) === tag)
  const place = `:nth-child(${siblings.indexOf(element) + 1}):nth-of-type(${ofType.indexOf(element) + 1})`
  return `${tag.replace(/[^\w-]/g, '')}${id ? `#${CSS.escape(id)}` : ''}${classesOf(element)}${place}${attributesOf(element)}`
}

function classesOf(element: Element): string {
  return [...classListOf(element)]
    .slice(0, MOST_CLASSES)
    .filter((name) => name.length <= 60)
    .map((name) => `.${CSS.escape(name)}`)
    .join('')
}

function attributesOf(element: Element): string {
  return KEPT_ATTRIBUTES.map((name) => {
    const value = name === 'href' ? linkTarget(element) : getAttribute.call(element, name)
    return value !== null && value.length <= 200 ? `[${name}="${value.replace(/["\\\n]/g, '\\$&')}"]` : ''
  }).join('')
}

/** Where a link leads, without what its query may tell: a path on the same site, else the other site's name. */
function linkTarget(element: Element): string | null {
  const href = getAttribute.call(element, 'href')
  const kept = href === null ? null : safely(() => keptAddress(new URL(href, document.baseURI).href, NO_PARAMETERS))
  if (!kept) return null
  return kept.host === location.host ? kept.path : `//${kept.host}`
}

/** What a link or button says, of the one that holds an element. Never anything that somebody typed. */
export function labelOf(element: Element): string | undefined {
  const control = closest.call(element, 'a,button,summary,[role=button],input[type=submit],input[type=button]')
  if (!control || closest.call(control, '[contenteditable]')) return undefined
  const text =
    control instanceof HTMLInputElement
      ? control.value
      : // As it is rendered: words of two boxes are two words. Links in drawings know their content only.
        (getAttribute.call(control, 'aria-label') ?? (control as HTMLElement).innerText ?? control.textContent ?? '')
  return text.replace(/\s+/g, ' ').trim().slice(0, LONGEST_LABEL) || undefined
}

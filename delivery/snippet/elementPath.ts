import { KEPT_ATTRIBUTES } from '../../core/measurement/keptAttributes'
import { keptAddress } from '../../core/targeting/address'
import { words } from '../edits/text'
import { safely } from './safely'
import { native, nativeDocument } from '../native'

const LONGEST = 1900
const MOST_CLASSES = 12
const LONGEST_LABEL = 100
const NO_PARAMETERS: ReadonlySet<string> = new Set()

/** The path of an element from the body inward; see `core/measurement/elementPath.ts`. */
export function elementPath(element: Element): string {
  let path = ''
  for (
    let each: Element | null = element;
    each && each !== nativeDocument.documentElement;
    each = native(each).parentElement
  ) {
    const step = stepOf(each)
    if (path.length + step.length > LONGEST) break
    path = path ? `${step}>${path}` : step
  }
  return path
}

function stepOf(element: Element): string {
  if (element === nativeDocument.body) return `body${classesOf(element)}`
  const { localName: tag, id, parentElement: parent } = native(element)
  const siblings = parent ? [...native(parent).children] : [element]
  const ofType = siblings.filter((each) => native(each).localName === tag)
  const place = `:nth-child(${siblings.indexOf(element) + 1}):nth-of-type(${ofType.indexOf(element) + 1})`
  return `${tag.replace(/[^\w-]/g, '')}${id ? `#${CSS.escape(id)}` : ''}${classesOf(element)}${place}${attributesOf(element)}`
}

function classesOf(element: Element): string {
  return [...native(element).classList]
    .slice(0, MOST_CLASSES)
    .filter((name) => name.length <= 60)
    .map((name) => `.${CSS.escape(name)}`)
    .join('')
}

function attributesOf(element: Element): string {
  return KEPT_ATTRIBUTES.map((name) => {
    const value = name === 'href' ? linkTarget(element) : native(element).getAttribute(name)
    return value !== null && value.length <= 200 ? `[${name}="${value.replace(/["\\\n]/g, '\\$&')}"]` : ''
  }).join('')
}

/** Where a link leads, without what its query may tell: a path on the same site, else the other site's name. */
function linkTarget(element: Element): string | null {
  const href = native(element).getAttribute('href')
  const kept =
    href === null ? null : safely(() => keptAddress(new URL(href, nativeDocument.baseURI).href, NO_PARAMETERS))
  if (!kept) return null
  return kept.host === location.host ? kept.path : `//${kept.host}`
}

/** What a link or button says, of the one that holds an element. Never anything that somebody typed. */
export function labelOf(element: Element): string | undefined {
  const control = native(element).closest('a,button,summary,[role=button],input[type=submit],input[type=button]')
  if (!control || native(control).closest('[contenteditable]')) return undefined
  const text =
    control instanceof HTMLInputElement
      ? control.value
      : // As it is rendered: words of two boxes are two words. Links in drawings know their content only.
        (native(control).getAttribute('aria-label') ??
        native(control as HTMLElement).innerText ??
        native(control).textContent ??
        '')
  return words(text).slice(0, LONGEST_LABEL) || undefined
}

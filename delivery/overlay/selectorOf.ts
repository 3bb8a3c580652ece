import { finder } from '@medv/finder'
import { native, nativeDocument } from '../native'

const STABLE_ID = (name: string) => /^[a-z][\w-]*$/i.test(name) && !/\d{3,}/.test(name)

/** A selector that finds one element on the page as it is, and goes on finding it when names are made anew. */
export function selectorOf(element: Element): string {
  // What looks for the shortest selector reads properties as they stand.
  if (isHiddenByNames(element)) return stepsTo(element)
  return finder(element, {
    className: (name) => /^[a-z][\w-]*$/i.test(name) && !/^(is|has)-|\d{3,}|^(active|open|selected|hover)$/.test(name),
    idName: STABLE_ID,
    timeoutMs: 200,
  })
}

/** Whether fields of a form around an element, or names of the page, stand before what the browser calls so. */
function isHiddenByNames(element: Element): boolean {
  for (let form = formAround(element); form; form = formAround(native(form).parentElement))
    if ([...native(form).elements].some((field) => namesOf(field).some((name) => name in HTMLFormElement.prototype)))
      return true
  const named = nativeDocument.querySelectorAll('img[name],form[name],iframe[name],embed[name],object[id],object[name]')
  return [...named].some((each) => namesOf(each).some((name) => name in HTMLDocument.prototype))
}

function formAround(element: Element | null): HTMLFormElement | null {
  return element && native(element).closest('form')
}

function namesOf(element: Element): string[] {
  return ['name', 'id'].flatMap((attribute) => native(element).getAttribute(attribute) ?? [])
}

/** From the nearest element with an id of its own, or from the page, step by step. */
function stepsTo(element: Element): string {
  const id = native(element).getAttribute('id')
  if (id && STABLE_ID(id) && nativeDocument.querySelectorAll(`#${id}`).length === 1) return `#${id}`
  const { localName, parentElement } = native(element)
  if (!parentElement || element === nativeDocument.body) return localName
  const alike = [...native(parentElement).children].filter((each) => native(each).localName === localName)
  const place = alike.length > 1 ? `:nth-of-type(${alike.indexOf(element) + 1})` : ''
  return `${stepsTo(parentElement)} > ${CSS.escape(localName)}${place}`
}

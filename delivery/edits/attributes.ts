import type { Picture } from '../../core/edits/image'
import type { Declarations } from '../../core/edits/style'
import type { AppliedEdit } from './applier'
import { restoreAttribute } from './richText'
import { native } from '../native'

/** Sets attributes of elements; null takes one away. */
function applyAttributes(wanted: readonly (readonly [Element, string, string | null])[]): AppliedEdit {
  const changes = wanted.map(([element, name, value]) => ({
    element,
    name,
    value,
    before: native(element).getAttribute(name),
  }))
  for (const { element, name, value } of changes) restoreAttribute(element, name, value)
  return {
    holds: () =>
      changes.every(
        ({ element, name, value }) => native(element).isConnected && native(element).getAttribute(name) === value,
      ),
    revert() {
      for (const { element, name, value, before } of changes)
        if (native(element).getAttribute(name) === value) restoreAttribute(element, name, before)
    },
  }
}

export function applyAttribute(name: string, value: string | null, element: Element): AppliedEdit {
  return applyAttributes([[element, name, value]])
}

/** Shows a picture in an image, whatever sizes of the old one the page offers; behind any other element. */
export function applyImage({ address, alt }: Picture, element: Element): AppliedEdit {
  if (!(element instanceof HTMLImageElement))
    return applyStyle({ 'background-image': `url("${address.replace(/["\\\n]/g, '\\$&')}")` }, element)
  const offers = element.closest('picture')?.querySelectorAll('source') ?? []
  return applyAttributes([
    [element, 'srcset', null],
    [element, 'src', address],
    [element, 'alt', alt],
    ...[...offers].map((source) => [source, 'srcset', null] as const),
  ])
}

/** Sets properties of an element before all that stylesheets say. */
export function applyStyle(declarations: Declarations, element: Element): AppliedEdit {
  const { style } = native(element as HTMLElement)
  const written = native(element).getAttribute('style')
  const before = written && style.cssText
  const changes = Object.entries(declarations).map(([name, value]) => {
    const had = style.getPropertyValue(name)
    const priority = style.getPropertyPriority(name)
    style.setProperty(name, value, 'important')
    return { name, had, priority, after: style.getPropertyValue(name) }
  })
  return {
    holds: () =>
      native(element).isConnected && changes.every(({ name, after }) => style.getPropertyValue(name) === after),
    revert() {
      for (const { name, had, priority, after } of changes.reverse())
        if (style.getPropertyValue(name) === after) style.setProperty(name, had, priority)
      // As it was written, unless the page has set others meanwhile, which stay.
      if (style.cssText === (before ?? '')) restoreAttribute(element, 'style', written)
    },
  }
}

/** Gives classes to an element and takes others away. */
export function applyClasses(add: readonly string[], remove: readonly string[], element: Element): AppliedEdit {
  const { classList } = native(element)
  const before = native(element).getAttribute('class')
  const given = add.filter((name) => !classList.contains(name))
  const taken = remove.filter((name) => classList.contains(name))
  classList.add(...given)
  classList.remove(...taken)
  const after = native(element).getAttribute('class')
  return {
    holds: () =>
      native(element).isConnected &&
      given.every((name) => classList.contains(name)) &&
      taken.every((name) => !classList.contains(name)),
    revert() {
      if (native(element).getAttribute('class') === after) return restoreAttribute(element, 'class', before)
      classList.remove(...given)
      classList.add(...taken)
    },
  }
}

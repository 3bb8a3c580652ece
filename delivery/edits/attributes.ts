import type { Picture } from '../../core/edits/image'
import type { Declarations } from '../../core/edits/style'
import type { AppliedEdit } from './applier'
import { restoreAttribute } from './richText'

/** Sets attributes of elements; null takes one away. */
function applyAttributes(wanted: readonly (readonly [Element, string, string | null])[]): AppliedEdit {
  const changes = wanted.map(([element, name, value]) => ({ element, name, value, before: element.getAttribute(name) }))
  for (const { element, name, value } of changes) restoreAttribute(element, name, value)
  return {
    holds: () =>
      changes.every(({ element, name, value }) => element.isConnected && element.getAttribute(name) === value),
    revert() {
      for (const { element, name, value, before } of changes)
        if (element.getAttribute(name) === value) restoreAttribute(element, name, before)
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
  const { style } = element as HTMLElement
  const written = element.getAttribute('style')
  const changes = Object.entries(declarations).map(([name, value]) => {
    const before = { value: style.getPropertyValue(name), priority: style.getPropertyPriority(name) }
    style.setProperty(name, value, 'important')
    return { name, before, after: style.getPropertyValue(name) }
  })
  const after = element.getAttribute('style')
  return {
    holds: () => element.isConnected && changes.every((each) => style.getPropertyValue(each.name) === each.after),
    revert() {
      if (element.getAttribute('style') === after) return restoreAttribute(element, 'style', written)
      // The page has set others meanwhile, which stay.
      for (const each of changes.reverse())
        if (style.getPropertyValue(each.name) === each.after)
          style.setProperty(each.name, each.before.value, each.before.priority)
    },
  }
}

/** Gives classes to an element and takes others away. */
export function applyClasses(add: readonly string[], remove: readonly string[], element: Element): AppliedEdit {
  const { classList } = element
  const before = element.getAttribute('class')
  const given = add.filter((name) => !classList.contains(name))
  const taken = remove.filter((name) => classList.contains(name))
  classList.add(...given)
  classList.remove(...taken)
  const after = element.getAttribute('class')
  return {
    holds: () =>
      element.isConnected &&
      given.every((name) => classList.contains(name)) &&
      taken.every((name) => !classList.contains(name)),
    revert() {
      if (element.getAttribute('class') === after) return restoreAttribute(element, 'class', before)
      classList.remove(...given)
      classList.add(...taken)
    },
  }
}

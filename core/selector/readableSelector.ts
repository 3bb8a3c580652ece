import { AttributeAction, parse, SelectorType, type Selector } from 'css-what'

/** Pseudo-classes that browsers answer wherever a selector is looked up. */
const PSEUDO_CLASSES = new Set([
  ...['active', 'any-link', 'checked', 'default', 'defined', 'disabled', 'empty', 'enabled', 'first-child'],
  ...[
    'first-of-type',
    'focus',
    'focus-visible',
    'focus-within',
    'has',
    'hover',
    'in-range',
    'indeterminate',
    'invalid',
  ],
  ...['is', 'lang', 'last-child', 'last-of-type', 'link', 'not', 'nth-child', 'nth-last-child', 'nth-last-of-type'],
  ...['nth-of-type', 'only-child', 'only-of-type', 'open', 'optional', 'out-of-range', 'placeholder-shown'],
  ...['read-only', 'read-write', 'required', 'root', 'scope', 'target', 'valid', 'visited', 'where'],
])

/**
 * Why browsers cannot find an element by a selector, in words for the person who typed it.
 *
 * @returns null for a selector that browsers can read
 * @example readabilityProblem('.fare:eq(0)') // '“:eq” is not known to browsers. …'
 */
export function readabilityProblem(selector: string): string | null {
  let groups: Selector[][]
  try {
    groups = parse(selector)
  } catch {
    return `“${selector}” is not a CSS selector. Write one such as #book or .fare a.`
  }
  if (groups.length === 0 || groups.some((tokens) => tokens.length === 0 || isOpenEnded(tokens.at(-1)!)))
    return `“${selector}” ends before it names an element. Write one such as #book or .fare a.`
  return groups.flat().map(tokenProblem).find(Boolean) ?? null
}

function isOpenEnded({ type }: Selector): boolean {
  return (
    type === SelectorType.Child ||
    type === SelectorType.Descendant ||
    type === SelectorType.Adjacent ||
    type === SelectorType.Sibling
  )
}

function tokenProblem(token: Selector): string | null {
  if (token.type === SelectorType.PseudoElement)
    return `“::${token.name}” is no element of the page. Name the element that it belongs to.`
  if (token.type === SelectorType.Attribute && token.action === AttributeAction.Not)
    return `“!=” is not known to browsers. Write :not([${token.name}="…"]).`
  if (token.type !== SelectorType.Pseudo) return null
  if (!PSEUDO_CLASSES.has(token.name))
    return `“:${token.name}” is not known to browsers. Use an id, a class, an attribute or a place such as :nth-child(2).`
  return Array.isArray(token.data) ? (token.data.flat().map(tokenProblem).find(Boolean) ?? null) : null
}

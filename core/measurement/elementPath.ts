import {
  AttributeAction,
  parse,
  SelectorType,
  type AttributeSelector,
  type PseudoSelector,
  type Selector,
} from 'css-what'
import { KEPT_ATTRIBUTES } from './keptAttributes'

/**
 * How a click keeps the element it happened on: the selectors of the element and of those around it, from the body
 * inward, such as `body>main.home:nth-child(2)>form#finder:nth-child(3):nth-of-type(1)`. What a metric counts is looked
 * up in it later, so that a metric has a past from before anybody thought of it.
 */
interface Step {
  tag: string
  id: string | null
  classes: ReadonlySet<string>
  attributes: ReadonlyMap<string, string>
  /** Place among all siblings, and among those of the same tag; 1 is the first. */
  child: number | null
  ofType: number | null
}

const PLACES = new Set(['nth-child', 'nth-of-type', 'first-child', 'first-of-type'])
const LOGIC = new Set(['is', 'where', 'matches', 'not'])
const ALWAYS = new Set(['link', 'any-link', 'enabled'])

/**
 * Why clicks on a selector cannot be counted, in words for the person who typed it.
 *
 * @returns null for a selector that can be looked up in kept clicks
 */
export function selectorProblem(selector: string): string | null {
  let groups: Selector[][]
  try {
    groups = parse(selector)
  } catch {
    return `“${selector}” is not a CSS selector. Write one such as #book or .fare a.`
  }
  for (const token of groups.flat()) {
    const problem = tokenProblem(token)
    if (problem) return problem
  }
  return null
}

function tokenProblem(token: Selector): string | null {
  switch (token.type) {
    case SelectorType.Tag:
    case SelectorType.Universal:
    case SelectorType.Descendant:
    case SelectorType.Child:
      return null
    case SelectorType.Attribute:
      return isKept(token.name)
        ? null
        : `The attribute ${token.name} is not kept with clicks. Use an id, a class, or one of ${KEPT_ATTRIBUTES.join(', ')}.`
    case SelectorType.Pseudo:
      if (LOGIC.has(token.name) && Array.isArray(token.data))
        return token.data.flat().map(tokenProblem).find(Boolean) ?? null
      if (PLACES.has(token.name) || ALWAYS.has(token.name)) return null
      return `:${token.name} is not kept with clicks. Use an id, a class or a place such as :nth-child(2).`
    default:
      return 'Neighbors (+ and ~) are not kept with clicks. Use an id or a class of the element itself.'
  }
}

function isKept(name: string): boolean {
  return name === 'id' || name === 'class' || (KEPT_ATTRIBUTES as readonly string[]).includes(name)
}

/**
 * Whether a selector finds the element of a path, or one that it lies in. What cannot be told from the path does not
 * match. Both come from outside: the cost grows with the length of one times the length of the other, and no further.
 *
 * @example isWithin('body>form#finder>button:nth-child(4)', '#finder') // true
 */
export function isWithin(path: string, selector: string): boolean {
  const steps = stepsOf(path)
  return groupsOf(selector).some((tokens) => placesOf(steps, tokens).includes(true))
}

/** For each step, whether the tokens find its element. Compound by compound, each goes over the steps once. */
function placesOf(steps: readonly Step[], tokens: readonly Selector[]): boolean[] {
  let found: boolean[] = steps.map(() => true)
  let combinator: Selector | null = null
  for (let start = 0; start <= tokens.length;) {
    let end = start
    while (end < tokens.length && !isCombinator(tokens[end]!)) end++
    found = within(found, combinator)
    for (const token of tokens.slice(start, end)) {
      const fitting = placesOfToken(steps, token)
      found = found.map((isFound, index) => isFound && fitting[index]!)
    }
    combinator = tokens[end] ?? null
    start = end + 1
  }
  return found
}

/** For each step, whether one of those found before stands around it as a combinator asks. */
function within(found: readonly boolean[], combinator: Selector | null): boolean[] {
  if (combinator === null) return [...found]
  if (combinator.type === SelectorType.Child) return found.map((_, index) => index > 0 && found[index - 1]!)
  if (combinator.type !== SelectorType.Descendant) return found.map(() => false)
  const first = found.indexOf(true)
  return found.map((_, index) => first >= 0 && index > first)
}

function isCombinator({ type }: Selector): boolean {
  return (
    type === SelectorType.Child ||
    type === SelectorType.Descendant ||
    type === SelectorType.Adjacent ||
    type === SelectorType.Sibling ||
    type === SelectorType.Parent ||
    type === SelectorType.ColumnCombinator
  )
}

function placesOfToken(steps: readonly Step[], token: Selector): boolean[] {
  if (token.type === SelectorType.Pseudo && LOGIC.has(token.name) && Array.isArray(token.data)) {
    const each = token.data.map((tokens) => placesOf(steps, tokens))
    return steps.map((_, index) => each.some((places) => places[index]) === (token.name !== 'not'))
  }
  return steps.map((step) => fits(step, token))
}

function fits(step: Step, token: Selector): boolean {
  switch (token.type) {
    case SelectorType.Universal:
      return true
    case SelectorType.Tag:
      return token.name.toLowerCase() === step.tag
    case SelectorType.Attribute:
      return fitsAttribute(step, token)
    case SelectorType.Pseudo:
      return fitsPseudo(step, token)
    default:
      return false
  }
}

function fitsPseudo(step: Step, { name, data }: PseudoSelector): boolean {
  if (ALWAYS.has(name)) return true
  const place = name.endsWith('of-type') ? step.ofType : step.child
  if (name.startsWith('first-')) return place === 1
  return PLACES.has(name) && typeof data === 'string' && place !== null && isNth(place, data)
}

/** Whether a place is one of `an+b`. */
function isNth(place: number, formula: string): boolean {
  const text = formula.replace(/\s+/g, '').toLowerCase()
  if (text === 'odd') return place % 2 === 1
  if (text === 'even') return place % 2 === 0
  const found = /^(?:([+-]?\d*)n)?([+-]?\d+)?$/.exec(text)
  if (!found || text === '') return false
  const a =
    found[1] === undefined ? 0 : found[1] === '' || found[1] === '+' ? 1 : found[1] === '-' ? -1 : Number(found[1])
  const rest = place - Number(found[2] ?? 0)
  return a === 0 ? rest === 0 : rest % a === 0 && rest / a >= 0
}

function fitsAttribute(step: Step, { name, action, value }: AttributeSelector): boolean {
  if (name === 'class' && action === AttributeAction.Element) return step.classes.has(value)
  const own =
    name === 'id'
      ? (step.id ?? undefined)
      : name === 'class'
        ? [...step.classes].join(' ') || undefined
        : step.attributes.get(name)
  if (action === AttributeAction.Not) return own !== value
  if (own === undefined) return false
  switch (action) {
    case AttributeAction.Exists:
      return true
    case AttributeAction.Equals:
      return own === value
    case AttributeAction.Start:
      return value !== '' && own.startsWith(value)
    case AttributeAction.End:
      return value !== '' && own.endsWith(value)
    case AttributeAction.Any:
      return value !== '' && own.includes(value)
    case AttributeAction.Hyphen:
      return own === value || own.startsWith(`${value}-`)
    case AttributeAction.Element:
      return own.split(/\s+/).includes(value)
  }
}

function stepOf(tokens: readonly Selector[]): Step {
  const step = {
    tag: '',
    id: null as string | null,
    classes: new Set<string>(),
    attributes: new Map<string, string>(),
    child: null as number | null,
    ofType: null as number | null,
  }
  for (const token of tokens) {
    if (token.type === SelectorType.Tag) step.tag = token.name.toLowerCase()
    else if (token.type === SelectorType.Attribute && token.name === 'id') step.id = token.value
    else if (token.type === SelectorType.Attribute && token.name === 'class') step.classes.add(token.value)
    else if (token.type === SelectorType.Attribute) step.attributes.set(token.name, token.value)
    else if (token.type === SelectorType.Pseudo && token.name === 'nth-child') step.child = Number(token.data)
    else if (token.type === SelectorType.Pseudo && token.name === 'nth-of-type') step.ofType = Number(token.data)
  }
  return step
}

function parseSteps(path: string): Step[] {
  const steps: Step[] = []
  let tokens: Selector[] = []
  for (const token of parse(path)[0] ?? []) {
    if (isCombinator(token)) {
      steps.push(stepOf(tokens))
      tokens = []
    } else tokens.push(token)
  }
  return [...steps, stepOf(tokens)]
}

const stepsOf = remembering(parseSteps)
const groupsOf = remembering(parse)

/** Most clicks are on few elements, so what was read is kept; what cannot be read is empty. */
function remembering<Read>(read: (text: string) => Read[], most = 5000): (text: string) => Read[] {
  const known = new Map<string, Read[]>()
  return (text) => {
    let found = known.get(text)
    if (found) return found
    try {
      found = read(text)
    } catch {
      found = []
    }
    if (known.size >= most) known.clear()
    known.set(text, found)
    return found
  }
}

/**
 * A path by which the same element is found again: classes come and go with the state of a page.
 *
 * @example withoutClasses('body>a#help.link.is-open:nth-child(1)') // 'body>a#help:nth-child(1)'
 */
export function withoutClasses(path: string): string {
  return path.replace(/\.(?:[\w-]|\\.)+(?=[.:[>#]|$)/g, '')
}

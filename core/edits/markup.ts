import {
  defaultTreeAdapter as tree,
  html,
  parseFragment,
  serialize,
  type DefaultTreeAdapterTypes as Tree,
} from 'parse5'

/** Longest HTML of an edit, in characters. */
export const LONGEST_MARKUP = 20_000

/** Tags of a line that a person may set. */
const LINE_TAGS = new Set(['b', 'i', 'u', 's', 'small', 'sub', 'sup', 'mark', 'code', 'br', 'a', 'span'])
/** They run something, or change what the whole page is. */
const REFUSED_TAGS: Record<string, string> = {
  script: 'It holds a script, which would not run. Use the script of the variant.',
  base: 'It holds a base element, which would change every address of the page.',
  meta: 'It holds a meta element, which may send visitors elsewhere.',
  object: 'It holds an object, which may run anything.',
  embed: 'It holds an embed element, which may run anything.',
}
/** Attributes that browsers follow, or that set those. */
const ADDRESSES = new Set([
  'to',
  'from',
  'by',
  'values',
  'href',
  'src',
  'action',
  'formaction',
  'xlink:href',
  'data',
  'poster',
  'srcset',
])
/** Text in them is not read by anybody. */
const HIDDEN_TAGS = new Set(['script', 'style'])
const BLOCK = /^(p|div|li|h\d|tr|br|section)$/

const words = (text: string) => text.split(' ')
/** Elements that HTML of an edit may hold: all that show something, and nothing that browsers read in ways of its own. */
const HTML_TAGS = new Set([
  ...words(
    'a abbr address area article aside audio b bdi bdo blockquote br button canvas caption cite code col colgroup',
  ),
  ...words(
    'data datalist dd del details dfn dialog div dl dt em fieldset figcaption figure footer form h1 h2 h3 h4 h5 h6',
  ),
  ...words('header hgroup hr i iframe img input ins kbd label legend li link main map mark menu meter nav ol optgroup'),
  ...words(
    'option output p picture pre progress q rp rt ruby s samp search section select slot small source span strong',
  ),
  ...words('style sub summary sup table tbody td textarea tfoot th thead time tr track u ul var video wbr'),
])
const SVG_TAGS = new Set([
  ...words(
    'svg g path circle ellipse line polygon polyline rect text tspan textPath title desc defs symbol use marker',
  ),
  ...words('linearGradient radialGradient stop clipPath mask pattern image animate animateTransform animateMotion set'),
  ...words('filter feBlend feColorMatrix feComposite feFlood feGaussianBlur feMerge feMergeNode feOffset feDropShadow'),
])
/** HTML that still reads differently after so many readings is none. */
const MOST_READINGS = 5
/** A name of an attribute that is written out as it was read. */
const PLAIN_NAME = /^[a-z_][\w:.-]*$/i

/** What HTML would bring to the page. */
export interface MarkupContent {
  /** How many elements of which tag. */
  elements: Record<string, number>
  /** Where its links lead to. */
  links: string[]
  /** Where its forms send to. */
  forms: string[]
  /** What it loads from elsewhere: pictures, frames, styles. */
  loads: string[]
  /** The text that is read. */
  text: string
  /** Why it cannot be kept, in sentences. */
  problems: string[]
}

/**
 * Reads what HTML would bring to a page, without running anything of it: as browsers read it.
 *
 * @param markup - a fragment, as it is typed or pasted
 * @example readMarkup('<p onclick="go()">Hi</p>').problems
 * // ['“onclick” would run a script. Take it out.']
 * @see WHATWG, HTML Living Standard, 13.2 Parsing HTML documents
 */
export function readMarkup(markup: string): MarkupContent {
  const content: MarkupContent = { elements: {}, links: [], forms: [], loads: [], text: '', problems: [] }
  const problems = new Set<string>()
  const fragment = parseFragment(markup)
  walk(fragment, (element, attributes) => {
    const { tagName: tag, namespaceURI } = element
    content.elements[tag] = (content.elements[tag] ?? 0) + 1
    const problem = REFUSED_TAGS[tag] ?? tagProblem(tag, namespaceURI)
    if (problem) problems.add(problem)
    for (const [name, value] of Object.entries(attributes)) {
      const wrong = attributeProblem(name, value)
      if (wrong) problems.add(wrong)
    }
    note(content, tag, attributes)
  })
  // What was checked must be what the browser gets: written out and read again it has to be the same.
  if (problems.size === 0 && !isReadOneWay(serialize(fragment)))
    problems.add('Browsers may read it in two ways. Close its elements in the order in which they were opened.')
  return { ...content, text: textOf(fragment).replace(/\s+/g, ' ').trim(), problems: [...problems] }
}

/**
 * HTML as it goes to browsers: the tree that was checked, written out, which reads as itself. Whatever of it would not be kept today is left
 * out, so that nothing reaches a page that was let in by an earlier rule.
 *
 * @example deliveredMarkup('<p>One<p title=two onclick=go()>Two') // '<p>One</p><p title="two">Two</p>'
 */
export function deliveredMarkup(markup: string): string {
  let written = markup
  for (let times = 0; times < MOST_READINGS; times++) {
    const fragment = parseFragment(written)
    clean(fragment)
    const read = serialize(fragment)
    if (read === written) return written
    written = read
  }
  return ''
}

function isReadOneWay(written: string): boolean {
  return serialize(parseFragment(written)) === written
}

/** Takes away elements and attributes that cannot be kept, and comments. */
function clean(parent: Tree.ParentNode): void {
  for (const node of [...parent.childNodes]) {
    if (tree.isTextNode(node)) continue
    const isKept =
      tree.isElementNode(node) && !REFUSED_TAGS[node.tagName] && !tagProblem(node.tagName, node.namespaceURI)
    if (!isKept) {
      tree.detachNode(node)
      continue
    }
    node.attrs = node.attrs.filter(
      ({ prefix, name, value }) => !attributeProblem(prefix ? `${prefix}:${name}` : name, value),
    )
    clean(node)
  }
}

function walk(
  parent: Tree.ParentNode,
  visit: (element: Tree.Element, attributes: Record<string, string>) => void,
): void {
  for (const node of parent.childNodes) {
    if (!tree.isElementNode(node)) continue
    visit(node, attributesOf(node))
    walk(node, visit)
  }
}

function attributesOf({ attrs }: Tree.Element): Record<string, string> {
  return Object.fromEntries(attrs.map(({ prefix, name, value }) => [prefix ? `${prefix}:${name}` : name, value]))
}

/** Why an element cannot be kept. A name with a dash is one that the page defines. */
function tagProblem(tag: string, namespace: string): string | null {
  if (namespace === html.NS.SVG && SVG_TAGS.has(tag)) return null
  if (namespace === html.NS.HTML && (HTML_TAGS.has(tag) || /^[a-z][a-z0-9]*(-[a-z0-9]+)+$/.test(tag))) return null
  return `It holds a ${tag} element, which browsers read in a way of its own. Take it out.`
}

function textOf(parent: Tree.ParentNode): string {
  return parent.childNodes
    .map((node) => {
      if (tree.isTextNode(node)) return node.value
      if (!tree.isElementNode(node) || HIDDEN_TAGS.has(node.tagName)) return ''
      return textOf(node) + (BLOCK.test(node.tagName) ? ' ' : '')
    })
    .join('')
}

function note(content: MarkupContent, tag: string, { href, src, action, srcset, poster }: Record<string, string>) {
  if (tag === 'a' && href) content.links.push(href)
  if (tag === 'link' && href) content.loads.push(href)
  if (tag === 'form') content.forms.push(action ?? '')
  for (const address of [src, srcset, poster]) if (address && !address.startsWith('data:')) content.loads.push(address)
}

/** Why HTML cannot be kept, in sentences; empty where it can. */
export function markupProblems(markup: string): string[] {
  return readMarkup(markup).problems
}

/** The text of HTML as it is read. */
export function markupText(markup: string): string {
  return readMarkup(markup).text
}

/**
 * Why an attribute cannot be set to a value; null where it can. What runs scripts belongs into the script of the
 * variant, where it is seen and may be forbidden.
 */
export function attributeProblem(name: string, value: string): string | null {
  if (!PLAIN_NAME.test(name)) return `“${name.slice(0, 40)}” is no name of an attribute. Take it out.`
  if (/^on/i.test(name)) return `“${name}” would run a script. Take it out.`
  if (name.toLowerCase() === 'srcdoc') return '“srcdoc” may run anything. Take it out.'
  // Browsers read over control characters and blanks in a scheme.

  const address = value.replace(/[\u0000-\u0020]/g, '')
  if (ADDRESSES.has(name.toLowerCase()) && /(^|;)(javascript|vbscript):|^data:(?!image\/)/i.test(address))
    return `The address “${value.slice(0, 40)}” would run a script. Use one that begins with https:// or a slash.`
  return null
}

/** Why markup is not that of one line; empty where it is. */
export function partProblems(markup: string): string[] {
  const problems = new Set(markupProblems(markup))
  walk(parseFragment(markup), ({ tagName: tag }, attributes) => {
    if (!LINE_TAGS.has(tag)) problems.add(`A line of text holds no ${tag} element.`)
    const part = attributes['data-part']
    if (tag === 'span' && !/^\d{1,3}$/.test(part ?? '')) problems.add('A part of the text is not one of the page’s.')
    const others = Object.keys(attributes).filter((name) => !(tag === 'a' ? ['href'] : ['data-part']).includes(name))
    if (others.length > 0) problems.add(`The text sets ${others.join(', ')}, which only HTML can.`)
  })
  return [...problems]
}

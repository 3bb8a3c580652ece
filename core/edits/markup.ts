import { Parser } from 'htmlparser2'

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
const HIDDEN_TAGS = new Set(['script', 'style', 'template', 'noscript'])

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
 * Reads what HTML would bring to a page, without running anything of it.
 *
 * @param html - a fragment, as it is typed or pasted
 * @example readMarkup('<p onclick="go()">Hi</p>').problems
 * // ['“onclick” would run a script. Take it out.']
 */
export function readMarkup(html: string): MarkupContent {
  const content: MarkupContent = { elements: {}, links: [], forms: [], loads: [], text: '', problems: [] }
  const problems = new Set<string>()
  const hidden: string[] = []
  const parser = new Parser({
    onopentag(tag, attributes) {
      content.elements[tag] = (content.elements[tag] ?? 0) + 1
      if (REFUSED_TAGS[tag]) problems.add(REFUSED_TAGS[tag])
      if (HIDDEN_TAGS.has(tag)) hidden.push(tag)
      for (const [name, value] of Object.entries(attributes)) {
        const problem = attributeProblem(name, value)
        if (problem) problems.add(problem)
      }
      note(content, tag, attributes)
    },
    ontext(text) {
      if (hidden.length === 0) content.text += text
    },
    onclosetag(tag) {
      if (hidden.at(-1) === tag) hidden.pop()
      if (/^(p|div|li|h\d|tr|br|section)$/.test(tag)) content.text += ' '
    },
  })
  parser.end(html)
  return { ...content, text: content.text.replace(/\s+/g, ' ').trim(), problems: [...problems] }
}

function note(content: MarkupContent, tag: string, { href, src, action, srcset, poster }: Record<string, string>) {
  if (tag === 'a' && href) content.links.push(href)
  if (tag === 'link' && href) content.loads.push(href)
  if (tag === 'form') content.forms.push(action ?? '')
  for (const address of [src, srcset, poster]) if (address && !address.startsWith('data:')) content.loads.push(address)
}

/** Why HTML cannot be kept, in sentences; empty where it can. */
export function markupProblems(html: string): string[] {
  return readMarkup(html).problems
}

/** The text of HTML as it is read. */
export function markupText(html: string): string {
  return readMarkup(html).text
}

/**
 * Why an attribute cannot be set to a value; null where it can. What runs scripts belongs into the script of the
 * variant, where it is seen and may be forbidden.
 */
export function attributeProblem(name: string, value: string): string | null {
  if (/^on/i.test(name)) return `“${name}” would run a script. Take it out.`
  if (name.toLowerCase() === 'srcdoc') return '“srcdoc” may run anything. Take it out.'
  // Browsers read over control characters and blanks in a scheme.

  const address = value.replace(/[\u0000-\u0020]/g, '')
  if (ADDRESSES.has(name.toLowerCase()) && /(^|;)(javascript|vbscript):|^data:(?!image\/)/i.test(address))
    return `The address “${value.slice(0, 40)}” would run a script. Use one that begins with https:// or a slash.`
  return null
}

/** Why markup is not that of one line; empty where it is. */
export function partProblems(html: string): string[] {
  const problems = new Set(markupProblems(html))
  new Parser({
    onopentag(tag, attributes) {
      if (!LINE_TAGS.has(tag)) problems.add(`A line of text holds no ${tag} element.`)
      const part = attributes['data-part']
      if (tag === 'span' && !/^\d{1,3}$/.test(part ?? '')) problems.add('A part of the text is not one of the page’s.')
      const others = Object.keys(attributes).filter((name) => !(tag === 'a' ? ['href'] : ['data-part']).includes(name))
      if (others.length > 0) problems.add(`The text sets ${others.join(', ')}, which only HTML can.`)
    },
  }).end(html)
  return [...problems]
}

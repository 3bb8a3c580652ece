import { Parser } from 'htmlparser2'

/** What goes into a copy of a page. */
export interface CopyParts {
  /** Where the page is, so that its pictures and styles are found. */
  address: string
  /** Address of the overlay, with its token. */
  overlay: string
  /** Path that the copy takes itself to be at. */
  path: string
  /** Runs before everything else. */
  first?: string
}

/** Style of the script line: without a snippet it would only delay the copy. */
const WAIT_STYLE = '@keyframes vetch{'

/**
 * A copy of a page that can be pointed at without the script line on it. Its own line, and policies that would keep the
 * overlay out, are taken away; nothing else is changed.
 *
 * @param html - the page as it is served
 */
export function copyOfPage(html: string, { address, overlay, path, first }: CopyParts): string {
  const cuts: [from: number, to: number][] = []
  let headAt: number | null = null
  let hasBase = false
  let opened: { tag: string; from: number } | null = null
  const parser = new Parser({
    onopentag(tag, attributes) {
      const [from, to] = [parser.startIndex, parser.endIndex + 1]
      if (tag === 'head' || (tag === 'html' && headAt === null)) headAt = to
      if (tag === 'base' && attributes.href) hasBase = true
      if (tag === 'meta' && /^(content-security-policy|refresh)$/i.test(attributes['http-equiv'] ?? ''))
        cuts.push([from, to])
      const isOfLine = 'data-vetch' in attributes || /\/s\/[\w-]+\.js$/.test(attributes.src ?? '')
      if (tag === 'script' && isOfLine) opened = { tag, from }
      if (tag === 'style' && html.startsWith(WAIT_STYLE, to)) opened = { tag, from }
    },
    onclosetag(tag) {
      if (opened?.tag !== tag) return
      cuts.push([opened.from, parser.endIndex + 1])
      opened = null
    },
  })
  parser.end(html)
  const base = hasBase ? '' : `<base href="${escaped(address)}">`
  const script = `<script src="${escaped(overlay)}" data-path="${escaped(path)}"></script>`
  const place = headAt ?? /^\s*<!doctype[^>]*>/i.exec(html)?.[0].length ?? 0
  // No text in it may end the element that it stands in.
  const before = first === undefined ? '' : `<script>${first.replaceAll('</', '<\\/')}</script>`
  let copy = html.slice(0, place) + before + base + script
  let at = place
  for (const [from, to] of cuts) {
    if (from < at) continue
    copy += html.slice(at, from)
    at = to
  }
  return copy + html.slice(at)
}

function escaped(text: string): string {
  return text.replace(/[&"<>]/g, (character) => `&#${character.charCodeAt(0)};`)
}

import { Parser } from 'htmlparser2'

const MOST = 20

/**
 * Style sheets of other hosts that a page links to, each once. A recorder cannot read what they say.
 *
 * @param html - as served
 * @param address - of the page itself: links are relative to it
 * @example linkedStyleSheets('<link rel="stylesheet" href="//cdn.example/a.css">', 'https://shop.example/') // ['https://cdn.example/a.css']
 */
export function linkedStyleSheets(html: string, address: string): string[] {
  const found = new Set<string>()
  let base = address
  const parser = new Parser({
    onopentag(name, { href, rel }) {
      if (href === undefined || !URL.canParse(href, base)) return
      if (name === 'base') base = new URL(href, address).href
      if (name !== 'link' || !rel?.toLowerCase().split(/\s+/).includes('stylesheet')) return
      const { origin, href: whole } = new URL(href, base)
      if (origin !== new URL(address).origin && found.size < MOST) found.add(whole)
    },
  })
  parser.end(html)
  return [...found]
}

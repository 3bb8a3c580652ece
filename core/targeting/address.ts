import { decoded, readUrl } from './readUrl'

/** Query parameters that name a campaign; every site keeps them. */
export const CAMPAIGN_PARAMETERS = ['utm_source', 'utm_medium', 'utm_campaign', 'utm_term', 'utm_content'] as const

/** A page's address as it is kept. */
export interface KeptAddress {
  /** Host with its port, in lower case. */
  host: string
  /** Path as browsers write it: percent-encoded, with a leading slash. */
  path: string
  /** Query of the kept parameters, in their order, with its question mark; empty without any. */
  query: string
}

/**
 * What of an address may be kept: nothing but the web's own schemes, no fragment, no credentials, and of the query
 * only the named parameters. Tokens and what people typed travel in the rest.
 *
 * @param address - absolute address of the page
 * @param parameters - names of query parameters that may be kept
 * @returns null for what is not an address of the web
 * @example keptAddress('https://a.test/b?token=1&ref=2#c', new Set(['ref'])) // { host: 'a.test', path: '/b', query: '?ref=2' }
 */
export function keptAddress(address: string, parameters: ReadonlySet<string>): KeptAddress | null {
  const url = readUrl(address)
  if (url?.protocol !== 'https:' && url?.protocol !== 'http:') return null
  const query = url.search
    .slice(1)
    .split('&')
    .filter((pair) => pair && parameters.has(parameterName(pair)))
    .join('&')
  return { host: url.host, path: url.pathname, query: query && `?${query}` }
}

/** The kept parts as one text again. */
export function addressText({ host, path, query }: KeptAddress, protocol = 'https:'): string {
  return `${protocol}//${host}${path}${query}`
}

/** Values of the campaign parameters in a query, in the order of `CAMPAIGN_PARAMETERS`. */
export function campaignOf(query: string): (string | null)[] {
  const parameters = new URLSearchParams(query)
  return CAMPAIGN_PARAMETERS.map((name) => parameters.get(name)?.slice(0, 200) || null)
}

/** Names of the query parameters that a rule's value compares. */
export function parametersIn(value: string): string[] {
  return [...value.matchAll(/(?:^|[?&])([\w.~-]+)=/g)].map((match) => match[1]!)
}

function parameterName(pair: string): string {
  return decoded(pair.split('=', 1)[0]!.replace(/\+/g, ' '))
}

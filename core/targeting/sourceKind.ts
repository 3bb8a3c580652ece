import { readAddress } from './readAddress'

/** Where a visit came from, by kind. */
export const SOURCE_KINDS = ['direct', 'search', 'social', 'mail', 'paid', 'other'] as const
export type SourceKind = (typeof SOURCE_KINDS)[number]

const PAID = /^(cpc|cpm|cpv|ppc|paid|display|banner|affiliate)/i
const MAIL = /^(e-?mail|newsletter)/i
const SOCIAL = /^social/i
const SEARCH_HOSTS = /(^|\.)(google|bing|duckduckgo|ecosia|yahoo|baidu|yandex|qwant|startpage)\.|(^|\.)search\./
const SOCIAL_HOSTS =
  /(^|\.)(facebook|instagram|linkedin|pinterest|reddit|tiktok|youtube|mastodon|bsky|twitter|x)\.[a-z]+$|^t\.co$/
const MAIL_HOSTS = /(^|\.)(mail|outlook|webmail)\./

/**
 * The kind of source of a visit: what the campaign says of itself first, then the host that linked here.
 *
 * @param landing - address of the visit's first page
 * @param referrer - host that was come from, empty for none; the site's own counts as none
 * @example sourceKind('https://a.test/?utm_medium=email', '') // 'mail'
 */
export function sourceKind(landing: string, referrer: string): SourceKind {
  const address = readAddress(landing)
  const host = address?.host ?? ''
  const medium = address?.searchParams.get('utm_medium') ?? ''
  if (PAID.test(medium)) return 'paid'
  if (MAIL.test(medium)) return 'mail'
  if (SOCIAL.test(medium)) return 'social'
  if (referrer === '' || referrer === host) return medium === '' ? 'direct' : 'other'
  if (MAIL_HOSTS.test(referrer)) return 'mail'
  if (SEARCH_HOSTS.test(referrer)) return 'search'
  return SOCIAL_HOSTS.test(referrer) ? 'social' : 'other'
}

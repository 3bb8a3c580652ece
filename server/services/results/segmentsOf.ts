/** The page view of an exposure, as far as visitors are told apart by it. */
export interface ExposingView {
  visitor: string
  view: string
  visit: number | null
  device: string
  system: string
  browser: string
  country: string | null
  language: string | null
  campaignSource: string | null
  referrerHost: string | null
}

const UNKNOWN = 'unknown'

/** What a visitor is at the moment of the exposure, by dimension. */
export function segmentsOf(view: ExposingView | undefined): Record<string, string> {
  return {
    device: view?.device ?? UNKNOWN,
    system: view?.system ?? UNKNOWN,
    browser: view?.browser ?? UNKNOWN,
    country: view?.country ?? UNKNOWN,
    language: view?.language?.split('-')[0]?.toLowerCase() || UNKNOWN,
    source: (view?.campaignSource ?? view?.referrerHost ?? (view ? 'direct' : UNKNOWN)).slice(0, 100),
    visitor: !view?.visit ? UNKNOWN : view.visit > 1 ? 'returning' : 'new',
  }
}

import { browserFacts } from '../../core/targeting/browserFacts'
import { isActive } from '../../core/targeting/activation'
import { holds, type Group } from '../../core/targeting/condition'
import type { VisitorFacts } from '../../core/targeting/visitorFacts'
import type { Circumstances } from '../../core/targeting/whyNot'
import type { SiteFile } from '../../shared/delivery/siteFile'
import { tellChange } from './factChanges'
import { happenings, noteHappening } from './happenings'
import { forgetPlace, placeOf, waitsForPlace } from './place'
import { forgetKnown, keepEvent, readKnown } from './rememberedVisitor'
import { safely } from './safely'
import { forgetTold, personNow, saidAttributes } from './toldByPage'
import { nativeDocument } from '../native'

/**
 * What decides of a visitor besides their id, with what is known at this moment. As long as the place is being looked
 * up, nobody fulfils conditions that ask for it: what rules a place out must not let everybody in meanwhile.
 */
export function circumstancesNow(siteFile: SiteFile, base: string): Circumstances {
  let gathered: VisitorFacts | undefined
  // Asking for them begins to look the place up.
  const facts = () => (gathered ??= gatherFacts(siteFile, base))
  const waits = (audience: Group) => !!facts() && waitsForPlace(audience)
  const { variants, periods } = readKnown()
  return {
    address: location.href,
    fulfils: (audience) => !waits(audience) && holds(audience, facts()),
    waits,
    isActive: (activation) => isActive(activation, { ...happenings(), has: isOnPage }),
    variants,
    periods,
    person: personNow(siteFile),
  }
}

const isOnPage = (selector: string) => !!nativeDocument.querySelector(selector)

/** Everything that conditions of the site may ask. */
export function gatherFacts(siteFile: SiteFile, base: string): VisitorFacts {
  const known = readKnown()
  const { visit } = known
  return {
    ...browserFacts(navigator.userAgent),
    ...placeOf(siteFile, base),
    now: Date.now(),
    siteTimeZone: siteFile.timeZone,
    timeZone: safely(() => Intl.DateTimeFormat().resolvedOptions().timeZone),
    screenWidth: screen.width,
    language: navigator.language,
    address: location.href,
    adParameters: siteFile.ads,
    landing: visit[1],
    referrer: visit[2],
    visits: visit[0],
    firstSeen: known.first,
    pages: known.pages.map(([address, at]) => ({ address, at })),
    events: known.events.map(([name, at]) => ({ name, at })),
    attributes: saidAttributes(),
    cookies: safely(() => Object.fromEntries(nativeDocument.cookie.split('; ').map(cookieOf))),
    data: (window as { vetchData?: Record<string, unknown> }).vetchData,
    variants: known.variants,
  }
}

function cookieOf(text: string): [string, string] {
  const [name = '', ...value] = text.split('=')
  return [name, safely(() => decodeURIComponent(value.join('='))) ?? '']
}

/** Notes an event that something waits for, or that a condition asks for. */
export function noteEvent(event: string, siteFile: SiteFile): void {
  noteHappening(event)
  keepEvent(event, siteFile)
  tellChange()
}

/** Everything that is known of the visitor, with withdrawn consent. */
export function forgetFacts(): void {
  forgetTold()
  forgetPlace()
  forgetKnown()
}

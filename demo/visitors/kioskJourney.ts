import type { CollectedEvent } from '../../shared/intake/collect'
import { CROSSINGS, fare } from '../site/crossings'
import { KIOSK_ELEMENTS } from './elements'
import { openSession, robotSession, type Journey } from './journey'

const MOST_TICKETS = 3
const MOST_LOOKED_AT = 3
const TITLES = { '/': 'Tickets', '/to/torrin': 'Who travels?', '/to/ennisay': 'Who travels?' }

/** A session at the ticket kiosk: an island, who travels, payment; some look at several, some buy again. */
export const kioskJourney: Journey = (random, visitor, meet) => {
  if (visitor.isRobot) return robotSession(random, meet, Object.keys(TITLES), TITLES)
  const session = openSession(random, visitor, meet)
  for (let bought = 0; bought < MOST_TICKETS && buyTicket(); bought++) {
    if (!random.chance(0.05)) break
    session.click(session.pages.at(-1)!, KIOSK_ELEMENTS.anotherTicket)
  }
  return session.isLost() ? [] : session.pages

  function buyTicket(): boolean {
    for (let looked = 0; looked < MOST_LOOKED_AT; looked++) {
      const start = session.openPage('/', 'Tickets')
      if (!random.chance(0.84)) return false
      const crossing = CROSSINGS[Number(random.pick({ 0: 40, 1: 34, 2: 26 }))]!
      session.click(start, KIOSK_ELEMENTS[crossing.slug])
      const party = session.openPage(`/to/${crossing.slug}`, 'Who travels?')
      const adults = Number(random.pick({ 1: 38, 2: 46, 3: 10, 4: 6 }))
      const children = random.chance(0.2) ? Number(random.pick({ 1: 6, 2: 4 })) : 0
      for (let more = 1; more < adults; more++) session.click(party, KIOSK_ELEMENTS.moreAdults, 500 + 400 * more)
      for (let more = 0; more < children; more++) session.click(party, KIOSK_ELEMENTS.moreChildren, 2100 + 400 * more)
      if (session.goes(0.55, 'party to payment')) {
        session.click(party, KIOSK_ELEMENTS.toPay)
        const details = { crossing: crossing.slug, adults, children }
        return pay(fare(crossing, { adults, children, vehicleMeters: 0 }), details)
      }
      if (!random.chance(0.3)) return false
      session.click(party, KIOSK_ELEMENTS.otherIsland)
    }
    return false
  }

  function pay(amount: number, details: CollectedEvent['details']): boolean {
    const page = session.openPage('/pay', 'Pay')
    if (!random.chance(0.93)) return false
    session.click(page, KIOSK_ELEMENTS.pay, page.stay - 400)
    const reference = `KT-${random.id(6).toUpperCase()}`
    const ticket = { name: 'ticket', amount, currency: 'EUR', reference, details }
    page.events.push({ type: 'custom', after: page.stay - 100, ...ticket })
    session.openPage(`/ticket/${reference}`, 'Your ticket')
    return true
  }
}

import { crossingsJourney } from './crossingsJourney'
import type { Journey } from './journey'
import { kioskJourney } from './kioskJourney'
import type { Crowd } from './visitor'

/** Who comes to a site, and what they do on it. */
export interface Population {
  crowd: Crowd
  journey: Journey
}

export const CROSSINGS_POPULATION: Population = {
  crowd: { devices: { phone: 58, desktop: 34, tablet: 8 }, campaigns: 0.22, searches: 0.6 },
  journey: crossingsJourney,
}

/** They stand at the quay: most have opened the address on the sign with their phone. */
export const KIOSK_POPULATION: Population = {
  crowd: { devices: { phone: 72, desktop: 2, tablet: 26 }, campaigns: 0, searches: 0.04 },
  journey: kioskJourney,
}

import { computed, reactive } from 'vue'
import { CROSSINGS, fare, type Crossing } from '../../site/crossings'

/** Who travels where; forgotten with the page. */
export const party = reactive({ crossing: null as Crossing | null, adults: 1, children: 0 })

export const hasParty = () => party.crossing !== null

/** In euro. */
export const total = computed(() => (party.crossing ? fare(party.crossing, { ...party, vehicleMeters: 0 }) : 0))

export function startParty(slug: string): void {
  Object.assign(party, { crossing: CROSSINGS.find((each) => each.slug === slug) ?? null, adults: 1, children: 0 })
}

export const inEuro = (amount: number) => `€ ${amount.toFixed(2)}`

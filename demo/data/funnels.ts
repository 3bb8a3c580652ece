import type { MetricSource } from '../../core/measurement/metric'
import type { FunnelInput } from '../../shared/evidence/funnel'

const page = (name: string, match: 'exact' | 'begins', value: string): FunnelInput['steps'][number] => ({
  name,
  source: { type: 'visit', page: { match, value } } satisfies MetricSource,
})

/** Ways through the site of the crossings that the team looks at. */
export const CROSSINGS_FUNNELS: readonly { name: string; plan: FunnelInput }[] = [
  {
    name: 'Booking',
    plan: {
      steps: [
        page('Booking form', 'exact', '/book'),
        page('Travelers', 'exact', '/book/travelers'),
        page('Payment', 'exact', '/book/pay'),
        page('Booked', 'exact', '/book/done'),
      ],

      isStrict: false,
      limitMinutes: null,
      isWithinSession: true,
    },
  },
  {
    name: 'From a crossing to a booking',
    plan: {
      steps: [
        page('Crossing', 'begins', '/crossings/'),
        { name: 'Book this crossing', source: { type: 'click', selector: '#book-crossing' } },
        page('Booked', 'exact', '/book/done'),
      ],

      isStrict: false,
      limitMinutes: 60 * 24 * 7,
      isWithinSession: false,
    },
  },
]

import type { Group } from '../../core/targeting/condition'
import type { Persona } from '../../core/targeting/persona'

/** How the demo's experiments share visitors, and for whom they are. */
export const HOME_GROUP = { name: 'Start page and crossings', kind: 'parts', salt: 'kc-home-group' } as const

/** By their names in the group, with the shares that they take; those that run have their buckets already. */
export const IN_HOME_GROUP: Readonly<Record<string, { share: number; ramp?: { share: number; days: number }[] }>> = {
  'Finder button says where to': { share: 5000 },
  'Fares stand above the pictures': { share: 3000, ramp: [{ share: 500, days: 2 }] },
}

export const PHONES_WITHOUT_BOOKING: { name: string; conditions: Group } = {
  name: 'Phones without a booking lately',
  conditions: {
    join: 'all',
    of: [
      { fact: 'device', is: 'oneOf', texts: ['phone', 'tablet'] },
      {
        join: 'none',
        of: [{ fact: 'seen', page: { match: 'exact', value: '/book/done' }, is: 'least', number: 1, days: 28 }],
      },
    ],
  },
}
export const FROM_ADS: { name: string; conditions: Group } = {
  name: 'Came by a campaign from the islands’ neighbors',
  conditions: {
    join: 'all',
    of: [
      { fact: 'campaign', is: 'known' },
      { fact: 'country', is: 'oneOf', texts: ['IE', 'GB'] },
    ],
  },
}

/** The draft that asks for a saved audience. */
export const ASKS_FOR_PHONES = 'Timetable by day instead of by island'

export const DEMO_PERSONAS: readonly { name: string; facts: Persona }[] = [
  {
    name: 'Phone from Cork, second visit',
    facts: {
      device: 'phone',
      system: 'iOS',
      browser: 'Safari',
      browserVersion: '18.5',
      screenWidth: 390,

      language: 'en-IE',
      country: 'IE',
      city: 'Cork',
      timeZone: 'Europe/Dublin',
      visits: 2,
      daysSinceFirst: 6,
      pages: [{ address: '/timetable', daysAgo: 6 }],
    },
  },
  {
    name: 'Desktop by the spring campaign',
    facts: {
      device: 'desktop',
      system: 'Windows',
      browser: 'Chrome',
      browserVersion: '141.0',
      screenWidth: 1440,

      language: 'de-DE',
      country: 'DE',
      timeZone: 'Europe/Berlin',
      visits: 1,
      daysSinceFirst: 0,
      landing: '/?utm_source=newsletter&utm_campaign=spring',
    },
  },
]
/** With their period in days before the first start; what lies ahead is below zero. */
export const DEMO_HOLDOUTS = [
  { name: 'Autumn', salt: 'kc-holdout-autumn', share: 1000, fromDaysAgo: 60, untilDaysAgo: 24 },
  // From now on: it keeps nobody from what has started before.
  { name: 'Winter timetable', salt: 'kc-holdout', share: 500, fromDaysAgo: 0, untilDaysAgo: -90 },
] as const

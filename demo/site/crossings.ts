/** The three islands, with what a crossing costs in euro. All of it is invented. */
export interface Crossing {
  slug: 'ennisay' | 'torrin' | 'little-skell'
  island: string
  minutes: number
  sailings: string[]
  adult: number
  child: number
  /** A car up to 5 m; each further meter adds `carMeter`. */
  car: number
  carMeter: number
  text: string
  hills: string
}

export const CROSSINGS: readonly Crossing[] = [
  {
    slug: 'ennisay',
    island: 'Ennisay',
    minutes: 35,
    sailings: ['07:10', '10:30', '14:00', '18:20'],
    adult: 9.5,
    child: 4.5,
    car: 28,
    carMeter: 6,
    text: 'White beaches on the west side, a working harbor on the east, and the long walk between them.',
    hills: 'M0 150 Q120 60 240 140 T480 120 T800 150 V260 H0Z',
  },
  {
    slug: 'torrin',
    island: 'Torrin',
    minutes: 50,
    sailings: ['08:00', '12:15', '17:00'],
    adult: 12,
    child: 6,
    car: 34,
    carMeter: 7.5,
    text: 'The high island: cliffs with kittiwakes, a ridge path, and one road that goes all the way round.',
    hills: 'M0 170 L150 60 L260 130 L420 30 L600 150 L800 110 V260 H0Z',
  },
  {
    slug: 'little-skell',
    island: 'Little Skell',
    minutes: 20,
    sailings: ['09:00', '11:00', '13:30', '16:00', '19:00'],
    adult: 7,
    child: 3.5,
    car: 22,
    carMeter: 5,
    text: 'Small enough to walk in an afternoon. Twelve houses, one shop, more seals than people.',
    hills: 'M0 180 Q300 110 500 160 T800 170 V260 H0Z',
  },
]

/** Price of a booking in euro. */
export function fare(crossing: Crossing, party: { adults: number; children: number; vehicleMeters: number }): number {
  const car =
    party.vehicleMeters > 0 ? crossing.car + Math.max(0, Math.ceil(party.vehicleMeters - 5)) * crossing.carMeter : 0
  return crossing.adult * party.adults + crossing.child * party.children + car
}

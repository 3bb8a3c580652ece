import { MADE_UP_NETWORKS } from '../../stand-ins/place/networks'
import type { Random } from './random'

export type Device = 'phone' | 'desktop' | 'tablet'

/** Who a simulated visitor is. */
export interface Visitor {
  id: string
  device: Device
  /** Its name in lower case. */
  browser: string
  userAgent: string
  /** By its two letters. */
  country: string
  /** A made-up address in the network of their country. */
  address: string
  language: string
  timeZone: string
  campaign: string | null
  /** Probability that a search led them here. */
  searches: number
  screen: readonly [number, number]
  /** Factor on the probability to go on toward a booking, the same at every visit. */
  eagerness: number
  isRobot: boolean
}

/** Who comes to a site: shares by device, and how many were sent by a campaign or a search. */
export interface Crowd {
  devices: Readonly<Record<Device, number>>
  campaigns: number
  searches: number
}

const SCREENS: Record<Device, readonly [number, number]> = {
  phone: [390, 844],
  desktop: [1440, 900],
  tablet: [820, 1180],
}
const LANGUAGES = { IE: 'en-IE', GB: 'en-GB', DE: 'de-DE', FR: 'fr-FR', NL: 'nl-NL', US: 'en-US' }
const TIME_ZONES = {
  IE: 'Europe/Dublin',
  GB: 'Europe/London',
  DE: 'Europe/Berlin',
  FR: 'Europe/Paris',
  NL: 'Europe/Amsterdam',
  US: 'America/New_York',
}
const WEBKIT = 'AppleWebKit/537.36 (KHTML, like Gecko)'
const USER_AGENTS: Record<Device, Record<string, string>> = {
  phone: {
    chrome: `Mozilla/5.0 (Linux; Android 15; Pixel 8) ${WEBKIT} Chrome/141.0.0.0 Mobile Safari/537.36`,
    safari:
      'Mozilla/5.0 (iPhone; CPU iPhone OS 18_5 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.5 Mobile/15E148 Safari/604.1',
  },
  tablet: {
    chrome: `Mozilla/5.0 (Linux; Android 14; SM-X710) ${WEBKIT} Chrome/141.0.0.0 Safari/537.36`,
    safari:
      'Mozilla/5.0 (iPad; CPU OS 18_5 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.5 Mobile/15E148 Safari/604.1',
  },
  desktop: {
    chrome: `Mozilla/5.0 (Windows NT 10.0; Win64; x64) ${WEBKIT} Chrome/141.0.0.0 Safari/537.36`,
    firefox: 'Mozilla/5.0 (X11; Linux x86_64; rv:143.0) Gecko/20100101 Firefox/143.0',
    safari:
      'Mozilla/5.0 (Macintosh; Intel Mac OS X 10_15_7) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.5 Safari/605.1.15',
  },
}
const ROBOT = 'Mozilla/5.0 (compatible; harborbot/1.0; +https://robot.example/)'
const ROBOTS = 0.012

export function drawVisitor(random: Random, crowd: Crowd): Visitor {
  const device = random.pick<Device>(crowd.devices)
  const country = random.pick({ IE: 46, GB: 24, DE: 12, FR: 8, NL: 6, US: 4 })
  const browser = random.pick<string>(
    device === 'desktop' ? { chrome: 62, firefox: 20, safari: 18 } : { chrome: 55, safari: 45 },
  )
  const isRobot = random.chance(ROBOTS)
  return {
    id: random.id(22),
    device,
    browser,
    userAgent: isRobot ? ROBOT : USER_AGENTS[device][browser]!,
    country,
    address: addressIn(country, random),
    language: LANGUAGES[country],
    timeZone: TIME_ZONES[country],
    campaign: random.chance(crowd.campaigns)
      ? random.pick({ 'spring-sailings': 5, 'island-hopper': 3, newsletter: 2 })
      : null,
    searches: crowd.searches,
    screen: SCREENS[device],
    eagerness: Number(random.pick({ 0.4: 30, 1: 45, 1.72: 25 })),
    isRobot,
  }
}

function addressIn(country: string, random: Random): string {
  const networks = MADE_UP_NETWORKS.filter((each) => each.country === country)
  const [a, b, c] = networks[Math.floor(random.uniform() * networks.length)]!.network.split('.').map((part) =>
    parseInt(part, 10),
  ) as [number, number, number]
  return `${a}.${b}.${c + Math.floor(random.uniform() * 64)}.${1 + Math.floor(random.uniform() * 254)}`
}

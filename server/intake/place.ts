import ipaddr from 'ipaddr.js'
import { open, type CityResponse, type Reader } from 'maxmind'
import { MADE_UP_NETWORKS } from '../../stand-ins/place/networks'

/** Where a visitor is, as far as the lookup files know. */
export interface Place {
  country: string | null
  region: string | null
  city: string | null
}

export type FindPlace = (address: string) => Place

const NOWHERE: Place = { country: null, region: null, city: null }

export interface PlaceFiles {
  /** File in the MMDB format with the country of each network. */
  country: string
  /** The same with region and city; optional. */
  city: string
  /** Whether the networks of simulated visitors are known too. */
  hasMadeUp: boolean
}

/** Opens the lookup files. The address is looked up and forgotten: it is stored nowhere. */
export async function openPlaces({ country, city, hasMadeUp }: PlaceFiles): Promise<FindPlace> {
  const countries = country ? await open<FlatCountry & CityResponse>(country) : null
  const cities = city ? await open<CityResponse>(city) : null
  return (address) => (hasMadeUp && findMadeUp(address)) || findInFiles(address, countries, cities)
}

/** Some files name the country at the top, others in the nested form. */
interface FlatCountry {
  country_code?: string
}

function findInFiles(
  address: string,
  countries: Reader<FlatCountry & CityResponse> | null,
  cities: Reader<CityResponse> | null,
): Place {
  if (!ipaddr.isValid(address)) return NOWHERE
  const near = cities?.get(address)
  const far = countries?.get(address)
  return {
    country: near?.country?.iso_code ?? far?.country_code ?? far?.country?.iso_code ?? null,
    region: near?.subdivisions?.[0]?.names?.en ?? null,
    city: near?.city?.names?.en ?? null,
  }
}

const madeUp = MADE_UP_NETWORKS.map(({ network, country, region, city }) => ({
  range: ipaddr.parseCIDR(network),
  place: { country, region, city },
}))

function findMadeUp(address: string): Place | null {
  if (!ipaddr.IPv4.isValid(address)) return null
  const parsed = ipaddr.parse(address)
  return madeUp.find(({ range }) => parsed.match(range))?.place ?? null
}

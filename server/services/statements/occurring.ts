/** What statements are printed by: settings of a site, and the texts that occur on it. `SiteVisits` is one. */
export interface Occurring {
  basis: {
    timeZone: string
    currency: string
  }
  visits: {
    addresses: { texts: readonly string[] }
    elements: { texts: readonly string[] }
  }
}

/** Where the made-up networks lie from which simulated visitors come: all in the range that is set aside for tests. */
export const MADE_UP_NETWORKS = [
  { network: '198.18.0.0/18', country: 'IE', region: 'Leinster', city: 'Dunmarrow' },
  { network: '198.18.64.0/18', country: 'IE', region: 'Connacht', city: 'Harrow Quay' },
  { network: '198.18.128.0/18', country: 'GB', region: 'Wales', city: 'Penhallow' },
  { network: '198.18.192.0/18', country: 'GB', region: 'Scotland', city: 'Strathmere' },
  { network: '198.19.0.0/18', country: 'DE', region: 'Niedersachsen', city: 'Ostermoor' },
  { network: '198.19.64.0/18', country: 'FR', region: 'Bretagne', city: 'Port-Clair' },
  { network: '198.19.128.0/18', country: 'NL', region: 'Zeeland', city: 'Westdrecht' },
  { network: '198.19.192.0/18', country: 'US', region: 'Maine', city: 'Gull Harbor' },
] as const

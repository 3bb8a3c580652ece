const NAMES: Record<string, string> = {
  device: 'Device',
  system: 'Operating system',
  browser: 'Browser',
  country: 'Country',
  language: 'Language',
  source: 'Source',
  visitor: 'New or returning',
}

/** What a person calls a dimension that visitors are told apart by. */
export function segmentName(dimension: string): string {
  return NAMES[dimension] ?? dimension
}

/** Lengths of time in ms. A day of a site may be an hour shorter or longer: see `siteDay.ts`. */
export const MINUTE = 60_000
export const HOUR = 60 * MINUTE
export const DAY = 24 * HOUR

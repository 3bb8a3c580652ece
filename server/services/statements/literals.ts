import pg from 'pg'

/** A text as it stands in a statement. */
export const text = (value: string) => pg.escapeLiteral(value)

/** The first moment of a day in a time zone. */
export function midnight(day: string, timeZone: string): string {
  return `timestamp ${text(day)} AT TIME ZONE ${text(timeZone)}`
}

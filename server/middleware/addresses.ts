import { createError, defineEventHandler } from 'h3'

/** Refuses an address with a NUL in it, wherever it stands: no text of the database can hold one. */
export default defineEventHandler((event) => {
  if (event.path.includes('%00') || event.path.includes('\0'))
    throw createError({ statusCode: 400, message: 'The address holds a character that cannot be stored.' })
})

import { createError, defineEventHandler } from 'h3'

/** Whatever the API does not know: an answer that programs can read, and not the interface. */
export default defineEventHandler((event) => {
  throw createError({
    statusCode: 404,
    message: `There is no ${event.method} ${event.path.split('?')[0]} in this API.`,
  })
})

/** Where Vue says that a view could not be set up or drawn, in development and in its short production codes. */
const DRAWING = /render|setup|runtime-[01]$/

/** A view that cannot be drawn is told as such, and not left blank. */
export default defineNuxtPlugin((nuxtApp) => {
  nuxtApp.hook('vue:error', (error, _instance, info) => {
    console.error(error)
    if (DRAWING.test(info)) showError(createError({ statusCode: 500, message: 'A view could not be drawn.' }))
  })
})

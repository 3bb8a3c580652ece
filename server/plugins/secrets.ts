import { defineNitroPlugin, useRuntimeConfig } from '#imports'

const SHORTEST = 32

/** Refuses to start without a secret: what is signed with an empty one anybody can sign. */
export default defineNitroPlugin(() => {
  if (useRuntimeConfig().sessionPassword.length < SHORTEST)
    throw new Error(`NUXT_SESSION_PASSWORD is empty or short. Set it to ${SHORTEST} random characters or more.`)
})

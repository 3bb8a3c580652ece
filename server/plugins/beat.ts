import { defineNitroPlugin, useRuntimeConfig } from '#imports'
import { database } from '../database/database'
import { beginBeating } from '../processes/ownBeat'

/** Says that this process is there, and how it fares. */
export default defineNitroPlugin((nitro) => {
  const { role } = useRuntimeConfig()
  if (role !== 'edge' && role !== 'web') return
  const beat = beginBeating(database(), role)
  nitro.hooks.hook('close', () => beat.end())
})

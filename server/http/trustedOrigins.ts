import type { H3Event } from 'h3'
import { useRuntimeConfig } from '#imports'

/** Origins whose pages may be fetched though they lie on this machine: the demo's, and those of `--reach`. */
export function trustedOrigins(event: H3Event): string[] {
  return useRuntimeConfig(event).trustedOrigins.split(',').filter(Boolean)
}

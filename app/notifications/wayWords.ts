import type { Way } from '~~/core/notifications/occurrence'

export const WAY_WORDS: Record<Way, string> = {
  now: 'By mail at once',
  morning: 'In the morning letter',
  list: 'In Vetch only',
  none: 'Not at all',
}

/** The choice that nothing is chosen, as fields have it. */
export const USUAL = 'usual'

/** What is so without a choice, as a field says it. */
export function usualWords(way: Way): string {
  const words = WAY_WORDS[way]
  return `As usual: ${words[0]!.toLowerCase()}${words.slice(1)}`
}

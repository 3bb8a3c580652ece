/** When something takes effect on a page that it is for: with an event, once an element is there, or when code calls. */
export type Activation =
  { on: 'event'; name: string } | { on: 'element'; selector: string } | { on: 'call'; name: string }

/** What has happened on the page that is open. */
export interface PageHappenings {
  events: readonly string[]
  calls: readonly string[]
  /** Whether an element is on the page. */
  has: (selector: string) => boolean
}

/** Whether what an activation waits for has come. */
export function isActive(activation: Activation, { events, calls, has }: PageHappenings): boolean {
  if (activation.on === 'element') return has(activation.selector)
  return (activation.on === 'event' ? events : calls).includes(activation.name)
}

/**
 * An activation as the end of a sentence.
 *
 * @example activationInWords({ on: 'event', name: 'basket opened' }) // 'with the event “basket opened”'
 */
export function activationInWords(activation: Activation | null): string {
  switch (activation?.on) {
    case 'event':
      return activation.name ? `with the event “${activation.name}”` : 'with an event that is not named yet'
    case 'element':
      return activation.selector ? `once “${activation.selector}” is on the page` : 'once an element is on the page'
    case 'call':
      return activation.name ? `when code calls for “${activation.name}”` : 'when code calls for it'
    default:
      return 'as the page loads'
  }
}

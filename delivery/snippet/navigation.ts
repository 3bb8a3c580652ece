import { guarded } from './safely'

interface NavigationLike extends EventTarget {
  currentEntry: unknown
}

/**
 * Tells when a single-page application has gone to another address. A new query alone is another view when it was
 * pushed; where an address is only replaced, as filters and searches do, the view goes on.
 */
export function watchNavigation(onView: () => void): void {
  let path = location.pathname
  let query = location.search
  const check = guarded((isReplaced: boolean) => {
    const isOther = location.pathname !== path || (location.search !== query && !isReplaced)
    path = location.pathname
    query = location.search
    if (isOther) onView()
  })
  const { navigation } = window as { navigation?: NavigationLike }
  if (navigation?.addEventListener) {
    navigation.addEventListener('currententrychange', (event) =>
      check((event as { navigationType?: string }).navigationType === 'replace'),
    )
    return
  }
  wrap('pushState', () => check(false))
  wrap('replaceState', () => check(true))
  addEventListener('popstate', () => check(false))
}

/** Calls the browser's own first: the page sees no difference. */
function wrap(name: 'pushState' | 'replaceState', after: () => void): void {
  const own = history[name]
  history[name] = function (this: History, ...args: Parameters<History['pushState']>) {
    const result = own.apply(this, args)
    after()
    return result
  }
}

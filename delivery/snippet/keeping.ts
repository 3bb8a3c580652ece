import { safely } from './safely'

const YEAR = 60 * 60 * 24 * 365

/** The page's cookies as last read: each reading asks another process. */
let cookies: string | null = null

export function readCookie(name: string, isFresh = false): string | null {
  return (
    safely(() => {
      if (isFresh) cookies = null
      cookies ??= document.cookie
      return new RegExp(`(?:^|; )${name}=([\\w-]{1,64})`).exec(cookies)?.[1]
    }) ?? null
  )
}

/** Sets a cookie on the widest domain that the browser allows, so that subdomains share it. An empty value removes it. */
export function writeCookie(name: string, value: string): boolean {
  // Sandboxed frames refuse cookies by throwing.
  return !!safely(() => {
    const labels = location.hostname.split('.')
    const isAddress = /^[\d.]+$|:/.test(location.hostname)
    const rest = `;path=/;max-age=${value ? YEAR : 0};samesite=lax${location.protocol === 'https:' ? ';secure' : ''}`
    for (let first = isAddress ? 0 : labels.length - 1; first >= 0; first--) {
      const domain = isAddress || labels.length === 1 ? '' : `;domain=${labels.slice(first).join('.')}`
      document.cookie = `${name}=${value}${domain}${rest}`
      if (value && readCookie(name, true) === value) return true
    }
    if (!value) document.cookie = `${name}=${rest}`
    return false
  })
}

export function readStorage(name: string): string | null {
  return safely(() => localStorage.getItem(name)) ?? null
}

/** Keeps a text under a name; null takes it away. */
export function writeStorage(name: string, value: string | null): boolean {
  return !!safely(() => {
    if (value === null) localStorage.removeItem(name)
    else localStorage.setItem(name, value)
    return true
  })
}

/** Names under which something is kept that begin with a text. */
export function storedNames(beginning: string): string[] {
  return safely(() => Object.keys(localStorage).filter((name) => name.startsWith(beginning))) ?? []
}

/** Runs work while no other tab of the browser does, where the browser can promise that. */
export function alone<Result>(work: () => Result): Promise<Result> {
  const { locks } = navigator as { locks?: LockManager }
  return locks ? (locks.request('vetch', work) as Promise<Result>) : Promise.resolve(work())
}

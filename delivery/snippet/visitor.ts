const NAME = 'vetch_visitor'
const SESSION = 'vetch_session'
const YEAR = 60 * 60 * 24 * 365
const SESSION_MINUTES = 30

/** A random id of 22 characters. */
function randomId(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16))
  return btoa(String.fromCharCode(...bytes))
    .replace(/\+/g, '-')
    .replace(/\//g, '_')
    .slice(0, 22)
}

/**
 * The visitor's id: from a cookie that spans subdomains, or else from local storage.
 *
 * @returns null where neither can be kept
 */
export function identify(): string | null {
  const id = readKept(NAME) ?? randomId()
  const isKnown = readCookie(NAME) === id
  if (!isKnown && !writeCookie(NAME, id)) return writeStorage(NAME, id) ? id : null
  // The copy is for the day on which the cookie is gone, so it can wait until the page is shown.
  setTimeout(() => writeStorage(NAME, id))
  return id
}

/** What was kept under a name. Storage is slow at its first use, and asked only where cookies do not work. */
export function readKept(name: string): string | null {
  return readCookie(name) ?? (readCookie(NAME) ? null : readStorage(name))
}

/** The id of the session, which ends after 30 minutes without a page view. */
export function sessionId(): string {
  const [id, last] = (readStorage(SESSION) ?? '').split(' ')
  const isOpen = id && Date.now() - Number(last) < SESSION_MINUTES * 60_000
  const current = isOpen ? id : randomId().slice(0, 12)
  writeStorage(SESSION, `${current} ${Date.now()}`)
  return current
}

/** The page's cookies as last read: each reading asks another process. */
let cookies: string | null = null

function readCookie(name: string): string | null {
  try {
    cookies ??= document.cookie
    return new RegExp(`(?:^|; )${name}=([\\w-]{1,64})`).exec(cookies)?.[1] ?? null
  } catch {
    return null
  }
}

/** Sets a cookie on the widest domain that the browser allows, so that subdomains share it. */
export function writeCookie(name: string, value: string): boolean {
  try {
    const labels = location.hostname.split('.')
    const isAddress = /^[\d.]+$|:/.test(location.hostname)
    const secure = location.protocol === 'https:' ? ';secure' : ''
    for (let first = isAddress ? 0 : labels.length - 1; first >= 0; first--) {
      const domain = isAddress || labels.length === 1 ? '' : `;domain=${labels.slice(first).join('.')}`
      document.cookie = `${name}=${value}${domain};path=/;max-age=${YEAR};samesite=lax${secure}`
      cookies = null
      if (readCookie(name) === value) return true
    }
  } catch {
    // Sandboxed frames refuse cookies by throwing.
  }
  return false
}

export function readStorage(name: string): string | null {
  try {
    return localStorage.getItem(name)
  } catch {
    return null
  }
}

export function writeStorage(name: string, value: string): boolean {
  try {
    localStorage.setItem(name, value)
    return true
  } catch {
    return false
  }
}

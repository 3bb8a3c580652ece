import { HELD_BACK } from '../../shared/delivery/scriptLine'
import { alone, readCookie, readStorage, writeCookie, writeStorage } from './keeping'
import { guarded } from './safely'

const NAME = 'vetch_visitor'
const SESSION = 'vetch_session'
const SESSION_MINUTES = 30

function randomId(length: number): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16))
  return btoa(String.fromCharCode(...bytes))
    .replace(/\+/g, '-')
    .replace(/\//g, '_')
    .slice(0, length)
}

/**
 * Hands on the visitor's id: from a cookie that spans subdomains, or else from local storage. A known visitor's at once;
 * a new one is made while no other tab makes one too.
 *
 * @param then - told the id, or null where nothing can be kept
 */
export function identify(then: (visitor: string | null) => void): void {
  const known = readCookie(NAME) ?? readStorage(NAME)
  if (!known) {
    alone(() => readCookie(NAME, true) ?? readStorage(NAME) ?? create()).then(
      guarded(then),
      guarded(() => then(null)),
    )
    return
  }
  // Browsers that let cookies of scripts run out after a week are told anew at each visit.
  setTimeout(() => keep(known))
  then(known)
}

function create(): string | null {
  const id = randomId(22)
  return keep(id) ? id : null
}

function keep(id: string): boolean {
  const inCookie = writeCookie(NAME, id)
  return writeStorage(NAME, id) || inCookie
}

/** A visit: ends after 30 minutes without a page view. */
export interface Session {
  id: string
  /** Which of the visitor's visits it is. */
  visit: number
}

/** The session that is under way, or a new one. Waits for other tabs that begin one. */
export function joinSession(): Promise<Session> {
  const open = readSession()
  return open?.isOpen ? Promise.resolve(noteSession(open)) : alone(joinSessionNow)
}

/** The same at once, for a page that is about to go. */
export function joinSessionNow(): Session {
  const known = readSession()
  if (known?.isOpen) return noteSession(known)
  return noteSession({ id: randomId(12), visit: (known?.visit ?? 0) + 1 })
}

/** The last session of this browser, and whether it is still under way. */
export function readSession(): (Session & { isOpen: boolean }) | null {
  const [id, last, visit] = (readStorage(SESSION) ?? '').split(' ')
  if (!id) return null
  return { id, visit: Number(visit) || 1, isOpen: Date.now() - Number(last) < SESSION_MINUTES * 60_000 }
}

function noteSession({ id, visit }: Session): Session {
  writeStorage(SESSION, `${id} ${Date.now()} ${visit}`)
  return { id, visit }
}

/** Forgets who it is. */
export function forgetVisitor(): void {
  writeCookie(NAME, '')
  writeStorage(NAME, null)
  writeStorage(SESSION, null)
  writeStorage(HELD_BACK, null)
}

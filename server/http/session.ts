import { deleteCookie, getCookie, setCookie, type H3Event } from 'h3'
import { database } from '../database/database'
import {
  findSession,
  newSecret,
  SESSION_DAYS,
  startSession,
  endSession,
  type Session,
} from '../services/accounts/sessions'
import { isEncrypted, userAgentOf } from './requestOrigin'

const SESSION_COOKIE = 'vetch_account'
const DEVICE_COOKIE = 'vetch_device'
const DAY = 24 * 60 * 60

/** Whoever is signed in, by the secret in a cookie that pages cannot read. */
export async function currentSession(event: H3Event): Promise<Session | null> {
  const secret = getCookie(event, SESSION_COOKIE)
  return secret ? findSession(database(), secret) : null
}

/** Signs somebody in on the device that calls. A session that was there before ends: its cookie is replaced. */
export async function signInHere(event: H3Event, personId: number): Promise<void> {
  const before = await currentSession(event)
  if (before) await endSession(database(), before.person.id, before.id)
  const secret = newSecret()
  const device = deviceSecret(event) ?? newSecret()
  await startSession(database(), personId, secret, { secret: device, userAgent: userAgentOf(event) })
  const options = { httpOnly: true, sameSite: 'lax', secure: isEncrypted(event), path: '/' } as const
  setCookie(event, SESSION_COOKIE, secret, { ...options, maxAge: SESSION_DAYS * DAY })
  setCookie(event, DEVICE_COOKIE, device, { ...options, maxAge: 365 * DAY })
}

export async function signOutHere(event: H3Event): Promise<void> {
  const session = await currentSession(event)
  if (session) await endSession(database(), session.person.id, session.id)
  deleteCookie(event, SESSION_COOKIE, { path: '/' })
}

/** What tells the device from others, if somebody has ever signed in on it. */
export function deviceSecret(event: H3Event): string | undefined {
  return getCookie(event, DEVICE_COOKIE)
}

import { useRuntimeConfig } from '#imports'
import { useSession, type H3Event } from 'h3'

const DAYS = 14

/** Whoever is signed in, in a sealed cookie that pages cannot read. */
export function accountSession(event: H3Event) {
  const { sessionPassword, secureCookies } = useRuntimeConfig(event)
  return useSession<{ personId?: number }>(event, {
    name: 'vetch_account',
    password: sessionPassword,
    maxAge: DAYS * 24 * 60 * 60,
    cookie: { httpOnly: true, sameSite: 'lax', secure: secureCookies, path: '/' },
    sessionHeader: false,
  })
}

import { readCookie, readStorage, writeCookie, writeStorage } from '../snippet/keeping'

/** Surveys that this visitor was shown: in a cookie for all hosts of the site, and in storage, which holds more of them. */
const ASKED = 'vetch_asked'
/** The session in which the last one was shown. */
const SESSION = 'vetch_asked_in'
const MOST_IN_COOKIE = 8
const MOST_KEPT = 200

const listed = (text: string | null) => (text ?? '').split('-').filter(Boolean)
const askedBefore = () => [...new Set([...listed(readStorage(ASKED)), ...listed(readCookie(ASKED))])]

/** Whether a survey may be shown: none twice, and one in a session. */
export function mayAsk(survey: number, session: string): boolean {
  return readStorage(SESSION) !== session && !askedBefore().includes(String(survey))
}

/**
 * Keeps that a survey was shown.
 *
 * @returns false where the browser keeps nothing: there it would be shown on every page
 */
export function keepAsked(survey: number, session: string): boolean {
  const all = [...askedBefore(), String(survey)]
  const isInCookie = writeCookie(ASKED, all.slice(-MOST_IN_COOKIE).join('-'))
  const isInStorage = writeStorage(ASKED, all.slice(-MOST_KEPT).join('-'))
  writeStorage(SESSION, session)
  return isInCookie || isInStorage
}

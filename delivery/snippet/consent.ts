import { readCookie, readStorage, writeCookie, writeStorage } from './keeping'

const CONSENT = 'vetch_consent'

/** Whether this visitor may be counted: never against their browser's privacy signal, and after consent where it is asked. */
export function mayCount(asksConsent: boolean): boolean {
  if ((navigator as { globalPrivacyControl?: boolean }).globalPrivacyControl) return false
  const answer = readCookie(CONSENT) ?? (asksConsent ? readStorage(CONSENT) : null)
  return answer === 'no' ? false : !asksConsent || answer === 'yes'
}

/** Keeps the visitor's answer, so that the next page need not ask. */
export function keepAnswer(isGiven: boolean): void {
  const answer = isGiven ? 'yes' : 'no'
  if (!writeCookie(CONSENT, answer)) writeStorage(CONSENT, answer)
}

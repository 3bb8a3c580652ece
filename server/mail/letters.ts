import type { Role } from '../../shared/accounts/account'

export interface Letter {
  subject: string
  text: string
}

/** Asks somebody to join. */
export function invitationLetter(organisation: string, by: string | null, role: Role, link: string): Letter {
  return {
    subject: oneLine(`Join ${organisation} on Vetch`),
    text: `${oneLine(by ?? 'Somebody')} asks you to join ${oneLine(organisation)} on Vetch as ${role}.\n\n${link}\n\nThe link works for seven days, once. If you do not know them, leave it.\n`,
  }
}

/** Lets somebody choose a new password. */
export function resetLetter(link: string): Letter {
  return {
    subject: 'Choose a new password for Vetch',
    text: `Somebody, probably you, asked for a new password for this address.\n\n${link}\n\nThe link works for one hour, once. If it was not you, leave it: your password stays.\n`,
  }
}

/** Names are other people's words: a subject has one line. */
export function oneLine(text: string): string {
  return text.replace(/\s+/g, ' ').trim()
}

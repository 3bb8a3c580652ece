import { readKept, writeCookie, writeStorage } from './visitor'

const CONSENT = 'vetch_consent'

/** A custom event that the page reports: `(window.vetch ||= []).push({ event: 'order', amount: 84.5, currency: 'EUR' })`. */
interface EventCommand {
  event: string
  amount?: number
  currency?: string
}
/** The visitor's answer to the site's own question: `(window.vetch ||= []).push({ consent: true })`. */
interface ConsentCommand {
  consent: boolean
}
type Command = EventCommand | ConsentCommand

interface CommandQueue {
  push: (...commands: Command[]) => number
}

/** Whether this visitor may be counted: never against their browser's privacy signal, and after consent where it is asked. */
export function currentConsent(asksConsent: boolean): boolean {
  if ((navigator as { globalPrivacyControl?: boolean }).globalPrivacyControl) return false
  const answer = readKept(CONSENT)
  return answer === 'no' ? false : !asksConsent || answer === 'yes'
}

/** Carries out what the page has pushed onto `window.vetch`, before and after the snippet came. */
export function listenForCommands(on: {
  event: (event: { name: string; amount?: number; currency?: string }) => void
  consent: () => void
}): void {
  const holder = window as { vetch?: CommandQueue | Command[] }
  const waiting = Array.isArray(holder.vetch) ? holder.vetch : []
  const carryOut = (command: Command) => {
    if ('consent' in command) {
      const answer = command.consent ? 'yes' : 'no'
      if (!writeCookie(CONSENT, answer)) writeStorage(CONSENT, answer)
      on.consent()
    } else if (typeof command.event === 'string') {
      on.event({ name: command.event.slice(0, 100), amount: command.amount, currency: command.currency })
    }
  }
  const queue = {
    push: (...commands: Command[]) => {
      for (const command of commands) {
        try {
          carryOut(command)
        } catch {
          // A malformed command is the page's mistake and must not become its error.
        }
      }
      return 0
    },
  }
  holder.vetch = queue
  queue.push(...waiting)
}

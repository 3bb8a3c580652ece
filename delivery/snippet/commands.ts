import { noteCommand } from './toldByPage'
import { guarded } from './safely'

/** A custom event that the page reports: `(window.vetch ||= []).push({ event: 'order', amount: 84.5, currency: 'EUR', id: 'KC-1' })`. */
export interface EventCommand {
  event: string
  amount?: number
  currency?: string
  /** Number of the order: told again, it counts once. */
  id?: string
  /** What else is said of it, by names; a site lists what is kept. */
  details?: Record<string, unknown>
}
/** The visitor's answer to the site's own question: `(window.vetch ||= []).push({ consent: true })`. */
interface ConsentCommand {
  consent: boolean
}
type Command = EventCommand | ConsentCommand

interface Handlers {
  event: (event: EventCommand) => void
  consent: (isGiven: boolean) => void
}

/**
 * Carries out what the page has pushed onto `window.vetch`, before and after the snippet came. Something of the page's
 * own that has this name is left alone.
 */
export function listenForCommands(on: Handlers): void {
  const holder = window as unknown as { vetch?: unknown }
  if (holder.vetch === undefined) holder.vetch = []
  const list = holder.vetch
  if (!Array.isArray(list)) return
  const carryOut = guarded((command: Command) => {
    if (__WITH_RULES__) noteCommand(command)
    if ('consent' in command) on.consent(command.consent === true)
    else if (typeof command.event === 'string') on.event(command)
  })
  const waiting = list.splice(0) as Command[]
  list.push = (...commands: Command[]) => {
    commands.forEach((command) => carryOut(command))
    return 0
  }
  waiting.forEach((command) => carryOut(command))
}

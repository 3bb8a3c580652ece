import type { Database } from '../database/connect'
import { keepBeating, type Beat } from './beat'
import type { ProcessRole } from './roles'

let own: Beat | undefined

/** Begins to say that this process is there, and how it fares. */
export function beginBeating(database: Database, role: ProcessRole): Beat {
  own = keepBeating(database, role)
  return own
}

/** Notes how long a piece of this process's work took, in ms; nothing where nobody asks after its health. */
export function noteWork(milliseconds: number): void {
  own?.noteWork(milliseconds)
}

import type { H3Event } from 'h3'
import { isDatabaseAway, isDiskFull } from '../database/isDatabaseAway'
import { RefusedBatch } from '../intake/collect'
import { Overloaded } from '../intake/groupCommit'
import { noteRefusals } from '../intake/ports'
import { HttpProblem } from '../services/HttpProblem'
import { answerProblem, type Problem } from './answerProblem'

/** Answers a visitor's page that what it sent cannot be taken, and counts that for the site. */
export function answerRefusal(event: H3Event, error: unknown): Problem {
  if (error instanceof RefusedBatch && error.siteId !== null)
    noteRefusals(error.siteId, [{ id: null, why: error.message }], new Date())
  const { status, message } = refusalOf(error)
  return answerProblem(event, status, message)
}

function refusalOf(error: unknown): { status: number; message: string } {
  if (error instanceof RefusedBatch || error instanceof HttpProblem) return error
  if (error instanceof Overloaded) return { status: 503, message: 'Too much comes at once; send the batch again.' }
  if (isDiskFull(error)) return { status: 503, message: 'The disk of the database is full; send the batch again.' }
  if (isDatabaseAway(error)) return { status: 503, message: 'The database cannot be reached; send the batch again.' }
  console.error(error)
  return { status: 500, message: 'The batch could not be stored; send it again.' }
}

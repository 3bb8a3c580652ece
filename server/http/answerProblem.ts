import { setResponseStatus, type H3Event } from 'h3'

/** Why a visitor's page did not get what it asked for. */
export interface Problem {
  message: string
}

/**
 * Answers a visitor's page with a refusal. An error that is thrown would be drawn as a page of the interface, at the
 * expense of whoever sends rubbish quickly.
 */
export function answerProblem(event: H3Event, status: number, message: string): Problem {
  setResponseStatus(event, status)
  return { message }
}

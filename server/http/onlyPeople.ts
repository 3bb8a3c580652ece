import type { Person } from '../services/accounts/accounts'
import { HttpProblem } from '../services/HttpProblem'

/** Whoever calls, if it is a person: a token must not outlive itself by letting others in. */
export function onlyPeople(person: Person | null): Person {
  if (!person) throw new HttpProblem(403, 'Only a person may do this, not a token.')
  return person
}

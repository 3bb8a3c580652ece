import { string } from '../yup'
import { isTimeOrderedId } from '../../core/identity/timeOrderedId'

/** Ids that browsers send: of the site, the visitor and the session; and those that carry their time. */
export const SITE_KEY = /^[\w-]{1,40}$/

export const siteKeyField = () => string().strict().matches(SITE_KEY, 'the key is not one of a site').required()

/** What the snippet draws: 16 random bytes in letters that cookies and addresses can hold. */
export const VISITOR_ID = /^[\w-]{22}$/

export const visitorField = () => string().strict().matches(VISITOR_ID, 'visitor is not a visitor id').required()

export const SESSION_ID = /^[\w-]{4,64}$/

export const sessionField = () => string().strict().matches(SESSION_ID, 'session is not a session id').required()

export const timeOrderedField = () =>
  string()
    .strict()
    .required()
    .test('time-ordered', 'is not a UUID of version 7', (value) => typeof value === 'string' && isTimeOrderedId(value))

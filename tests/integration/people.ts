import { membership, organisation, person } from '../../server/database/schema'
import type { Database } from '../../server/database/connect'
import { hashPassword } from '../../server/services/accounts/password'
import { createSite } from '../../server/services/sites/sites'
import type { Role } from '../../shared/accounts/account'

export const PASSWORD = 'a-long-enough-password'
let count = 0

/** A new organisation with a site and one person of each role. */
export async function createTeam(database: Database) {
  const number = `${Date.now()}-${++count}`
  const passwordHash = await hashPassword(PASSWORD)
  const [team] = await database
    .insert(organisation)
    .values({ name: `Team ${number}` })
    .returning()
  const emails = {} as Record<Role, string>
  for (const role of ['owner', 'editor', 'viewer'] as const) {
    emails[role] = `${role}-${number}@team.example`
    const [added] = await database.insert(person).values({ name: role, email: emails[role], passwordHash }).returning()
    await database.insert(membership).values({ organisationId: team!.id, personId: added!.id, role })
  }
  const site = await createSite(database, team!.id, null, {
    address: `https://site-${number}.example`,
    name: `Site ${number}`,
  })
  return { site, emails, organisationId: team!.id }
}

/** Signs in over HTTP and returns a way to call the API as that person; without an e-mail address, as nobody. */
export async function callerOf(url: string, email?: string) {
  let cookie = ''
  if (email) {
    const reply = await fetch(`${url}/api/account/sign-in`, {
      method: 'POST',
      body: JSON.stringify({ email, password: PASSWORD }),
      headers: { 'content-type': 'application/json' },
    })
    if (!reply.ok) throw new Error(`Sign-in answered ${reply.status}`)
    cookie = reply.headers.get('set-cookie')!.split(';')[0]!
  }
  return (method: string, path: string, body?: unknown, headers: Record<string, string> = {}) =>
    fetch(url + path, {
      method,
      body: body === undefined ? undefined : JSON.stringify(body),
      headers: { 'content-type': 'application/json', cookie, ...headers },
    })
}

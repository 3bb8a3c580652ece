import { expect, type Page } from '@playwright/test'
import { membership, organisation, person } from '../../server/database/schema'
import { hashPassword } from '../../server/services/accounts/password'
import { createSite, noteFirstReport } from '../../server/services/sites/sites'
import type { Role } from '../../shared/accounts/account'
import type { World } from './world'

const PASSWORD = 'a-long-enough-password'

/** Waits until the server has everything that was changed on the open sheet. */
export async function saved(page: Page): Promise<void> {
  await expect(page.getByTestId('save-state')).toHaveText('Saved')
}

/** A team with one person in each role, and its site, which visitors have reported from. */
export interface Team {
  siteId: number
  siteKey: string
  siteAddress: string
  signIn: (page: Page, role: Role, path?: string) => Promise<void>
}

/** @param name - distinguishes the people of teams in one world */
export async function createTeam({ database, demoOrigin, url }: World, name: string): Promise<Team> {
  const [team] = await database.insert(organisation).values({ name }).returning()
  const passwordHash = await hashPassword(PASSWORD)
  for (const role of ['owner', 'editor', 'viewer'] as const) {
    const [added] = await database
      .insert(person)
      .values({ name: role, email: `${role}@${name}.example`, passwordHash })
      .returning()
    await database.insert(membership).values({ organisationId: team!.id, personId: added!.id, role })
  }
  const { id: siteId, key: siteKey } = await createSite(database, team!.id, null, {
    address: demoOrigin,
    name: 'Crossings',
  })
  await noteFirstReport(database, siteId)
  return {
    siteId,
    siteKey,
    siteAddress: demoOrigin,
    async signIn(page, role, path = 'today') {
      // The view for it has tests of its own.
      const data = { email: `${role}@${name}.example`, password: PASSWORD }
      const reply = await page.request.post(`${url}/api/account/sign-in`, { data })
      expect(reply.status()).toBe(200)
      await page.goto(`${url}/sites/${siteId}/${path}`)
    },
  }
}

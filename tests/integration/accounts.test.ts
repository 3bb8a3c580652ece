import { eq } from 'drizzle-orm'
import { afterAll, beforeEach, describe, expect, test } from 'vitest'
import { connect } from '../../server/database/connect'
import { invitation, membership, passwordReset } from '../../server/database/schema'
import type { PostedLetter } from '../../stand-ins/outbox/outbox'
import { callerOf, createTeam, PASSWORD } from './people'
import { ownStack } from './ownStack'

const { url, databaseUrl, outboxUrl } = ownStack()
const database = connect(databaseUrl, 2)
afterAll(() => database.$client.end())

type Caller = Awaited<ReturnType<typeof callerOf>>
let team: Awaited<ReturnType<typeof createTeam>>
let owner: Caller
let count = 0
beforeEach(async () => {
  team = await createTeam(database)
  owner = await callerOf(url, team.emails.owner)
})

const site = (path: string) => `/api/sites/${team.site.id}/${path}`
const newAddress = () => `somebody-${Date.now()}-${++count}@elsewhere.example`
/** The letters to an address, once one is there. */
async function lettersTo(address: string): Promise<PostedLetter[]> {
  const read = async () =>
    ((await (await fetch(`${outboxUrl}/letters.json`)).json()) as PostedLetter[]).filter(({ to }) => to === address)
  await expect.poll(async () => (await read()).length).toBeGreaterThan(0)
  return read()
}
const keyIn = ({ text }: PostedLetter) => /#(\S+)/.exec(text)![1]!
const statusOf = async (reply: Promise<Response>) => (await reply).status

describe('an invitation', () => {
  const invite = async (email: string, role = 'editor') =>
    (await owner('POST', site('invitations'), { email, role })).json()

  test('leads a new person in by the link of its letter, once, in the role that was said', async () => {
    const email = newAddress()
    const made = await invite(email)
    expect(made).toMatchObject({ email, role: 'editor', isSent: true })
    const [letter] = await lettersTo(email)
    expect(letter!.text).toContain(made.link)
    const key = keyIn(letter!)
    const nobody = await callerOf(url)
    const door = await (await nobody('POST', '/api/account/invitation', { key })).json()
    expect(door).toEqual({ organisation: expect.stringContaining('Team'), role: 'editor', email, hasAccount: false })
    const join = (body: object) => nobody('POST', '/api/account/invitation/accept', { key, ...body })
    expect((await (await join({ name: '', password: 'short' })).json()).data.fields).toEqual({
      name: 'Type your name.',
      password: 'Use at least 12 characters.',
    })
    const joined = await (await join({ name: 'Ines', password: PASSWORD })).json()
    expect(joined.sites).toMatchObject([{ id: team.site.id, role: 'editor' }])
    expect(await statusOf(join({ name: 'Ines', password: PASSWORD }))).toBe(410)
    const member = await callerOf(url, email)
    expect(await statusOf(member('POST', site('experiments'), { name: 'By Ines' }))).toBe(200)
    const [stored] = await database.select().from(invitation).where(eq(invitation.email, email))
    expect(JSON.stringify(stored)).not.toContain(key)
  })

  test('of a person with an account takes their password, and adds a site to theirs', async () => {
    const other = await createTeam(database)
    await invite(other.emails.viewer, 'owner')
    const key = keyIn((await lettersTo(other.emails.viewer))[0]!)
    const nobody = await callerOf(url)
    const join = (password: string) => nobody('POST', '/api/account/invitation/accept', { key, password })
    expect(await statusOf(join('not the password'))).toBe(422)
    const { sites } = await (await join(PASSWORD)).json()
    expect(sites.map(({ id, role }: { id: number; role: string }) => [id, role])).toEqual([
      [team.site.id, 'owner'],
      [other.site.id, 'viewer'],
    ])
  })

  test('that was taken back, has run out, or was followed by another opens nothing', async () => {
    const email = newAddress()
    const nobody = await callerOf(url)
    const open = (link: string) => statusOf(nobody('POST', '/api/account/invitation', { key: link.split('#')[1] }))
    const first = await invite(email)
    const second = await invite(email)
    expect([await open(first.link), await open(second.link)]).toEqual([410, 200])
    const { items } = await (await owner('GET', site('invitations'))).json()
    expect(items).toMatchObject([{ email, role: 'editor', person: 'owner' }])
    expect(await statusOf(owner('DELETE', site(`invitations/${items[0].id}`)))).toBe(200)
    expect(await open(second.link)).toBe(410)
    const third = await invite(email)
    await database
      .update(invitation)
      .set({ expiresAt: new Date(0) })
      .where(eq(invitation.email, email))
    expect(await open(third.link)).toBe(410)
    expect(await statusOf(owner('POST', site('invitations'), { email: team.emails.viewer, role: 'viewer' }))).toBe(409)
  })

  test('is not made, and nobody is let in or out, by a token', async () => {
    const { token } = await (await owner('POST', site('tokens'), { name: 'All', scope: 'manage' })).json()
    const program: Caller = (method, path, body) =>
      owner(method, path, body, { authorization: `Bearer ${token}`, cookie: '' })
    const body = { email: newAddress(), role: 'owner' }
    expect(await statusOf(program('POST', site('invitations'), body))).toBe(403)
    const { items } = await (await owner('GET', site('members'))).json()
    expect(await statusOf(program('DELETE', site(`members/${items[1].id}`)))).toBe(403)
    expect(await statusOf(program('PATCH', site(`members/${items[1].id}`), { role: 'owner' }))).toBe(403)
  })
})

describe('members', () => {
  const idOf = async (email: string) =>
    (await (await owner('GET', site('members'))).json()).items.find((each: { email: string }) => each.email === email)
      .id

  test('get another role or are removed, and it holds with their next call', async () => {
    const editor = await callerOf(url, team.emails.editor)
    const draft = { name: 'By the editor' }
    expect(await statusOf(editor('POST', site('experiments'), draft))).toBe(200)
    const member = await idOf(team.emails.editor)
    expect(await (await owner('PATCH', site(`members/${member}`), { role: 'viewer' })).json()).toMatchObject({
      role: 'viewer',
      isSelf: false,
    })
    expect(await statusOf(editor('POST', site('experiments'), draft))).toBe(403)
    expect(await statusOf(owner('DELETE', site(`members/${member}`)))).toBe(200)
    expect(await statusOf(editor('GET', site('today')))).toBe(404)
    expect(await statusOf(owner('DELETE', site(`members/${member}`)))).toBe(404)
  })

  test('take along, when they leave, their tokens and what shows drafts on pages', async () => {
    const second = await callerOf(url, team.emails.editor)
    const member = await idOf(team.emails.editor)
    await owner('PATCH', site(`members/${member}`), { role: 'owner' })
    const made = await (await second('POST', site('tokens'), { name: 'Report', scope: 'manage' })).json()
    const program = (method: string, path: string, body?: object) =>
      statusOf(
        fetch(url + path, {
          method,
          body: JSON.stringify(body),
          headers: { authorization: `Bearer ${made.token}`, 'content-type': 'application/json' },
        }),
      )
    // A token makes none that outlives it, and opens nothing that is for whoever is signed in.
    for (const [path, body] of [
      ['tokens', { name: 'Another', scope: 'read' }],
      ['panel', { path: '/' }],
      ['evidence/page-frame', { path: '/' }],
    ] as const)
      expect([path, await program('POST', site(path), body)]).toEqual([path, 403])
    expect(await program('POST', site('experiments'), { name: 'By a program' })).toBe(200)
    const { link } = await (await second('POST', site('panel'), { path: '/' })).json()
    const token = /vetch-point=(.*)$/.exec(link)![1]!
    const panel = async () =>
      (await fetch(`${url}/overlay.js?key=${team.site.key}&token=${encodeURIComponent(token)}`)).text()
    expect(await panel()).toContain('By a program')

    // It does no more than whoever made it may do now.
    await owner('PATCH', site(`members/${member}`), { role: 'viewer' })
    expect(await program('POST', site('experiments'), { name: 'More' })).toBe(403)
    await owner('DELETE', site(`members/${member}`))
    expect(await program('POST', site('experiments'), { name: 'More' })).toBe(401)
    expect(await panel()).not.toContain('By a program')
    const { items } = await (await owner('GET', site('tokens'))).json()
    expect(items).toEqual([])
  })

  test('always have an owner, also when two demote each other at once', async () => {
    const own = await idOf(team.emails.owner)
    const last = await owner('PATCH', site(`members/${own}`), { role: 'viewer' })
    expect([last.status, (await last.json()).message]).toEqual([409, expect.stringContaining('needs an owner')])
    expect(await statusOf(owner('DELETE', site(`members/${own}`)))).toBe(409)
    const second = await idOf(team.emails.editor)
    await owner('PATCH', site(`members/${second}`), { role: 'owner' })
    const other = await callerOf(url, team.emails.editor)
    await Promise.all([
      owner('PATCH', site(`members/${second}`), { role: 'viewer' }),
      other('PATCH', site(`members/${own}`), { role: 'viewer' }),
    ])
    const owners = await database.select().from(membership).where(eq(membership.organisationId, team.organisationId))
    expect(owners.filter(({ role }) => role === 'owner')).toHaveLength(1)
  })
})

describe('an account', () => {
  test('gets a new password by the link of a letter, once, and is signed out everywhere', async () => {
    const email = team.emails.viewer
    const [viewer, nobody] = [await callerOf(url, email), await callerOf(url)]
    expect(await statusOf(nobody('POST', '/api/account/reset-request', { email: email.toUpperCase() }))).toBe(200)
    const letters = await lettersTo(email)
    const key = keyIn(letters[0]!)
    const reset = (password: string) => nobody('POST', '/api/account/reset', { key, password })
    expect(await statusOf(reset('short'))).toBe(422)
    expect(await statusOf(reset('another-long-password'))).toBe(200)
    expect(await statusOf(reset('yet-another-password'))).toBe(410)
    expect(await statusOf(viewer('GET', site('today')))).toBe(401)
    const signIn = (password: string) => statusOf(nobody('POST', '/api/account/sign-in', { email, password }))
    expect([await signIn(PASSWORD), await signIn('another-long-password')]).toEqual([401, 200])
    const [stored] = await database.select().from(passwordReset)
    expect(JSON.stringify(stored)).not.toContain(key)
  })

  test('who changes the password ends the link of a letter that would set another', async () => {
    const email = team.emails.viewer
    const [viewer, nobody] = [await callerOf(url, email), await callerOf(url)]
    await nobody('POST', '/api/account/reset-request', { email })
    const key = keyIn((await lettersTo(email))[0]!)
    const change = { current: PASSWORD, password: 'changed-by-its-owner' }
    expect(await statusOf(viewer('POST', '/api/account/password', change))).toBe(200)
    expect(await statusOf(nobody('POST', '/api/account/reset', { key, password: 'by-whoever-has-it' }))).toBe(410)
  })

  test('that does not exist is not told from one that does, and nobody’s post box is filled', async () => {
    const nobody = await callerOf(url)
    const ask = (email: string) => nobody('POST', '/api/account/reset-request', { email })
    const stranger = newAddress()
    const replies = [await ask(stranger), await ask(team.emails.editor)]
    expect(await Promise.all(replies.map(async (reply) => [reply.status, await reply.text()]))).toEqual([
      [200, expect.stringContaining('asked')],
      [200, expect.stringContaining('asked')],
    ])
    for (let index = 0; index < 4; index++) await ask(team.emails.editor)
    expect((await ask(team.emails.editor)).status).toBe(429)
    const letters = (await (await fetch(`${outboxUrl}/letters.json`)).json()) as PostedLetter[]
    expect(letters.some(({ to }) => to === stranger)).toBe(false)
  })

  test('a letter leads to Vetch, whatever host a request names', async () => {
    const nobody = await callerOf(url)
    const email = team.emails.owner
    await nobody(
      'POST',
      '/api/account/reset-request',
      { email },
      { host: 'evil.example', 'x-forwarded-host': 'evil.example' },
    )
    expect((await lettersTo(email))[0]!.text).toContain(`${url}/reset#`)
  })

  test('changes its name, and its password for whoever knows the one before', async () => {
    const elsewhere = await callerOf(url, team.emails.owner)
    const renamed = await (await owner('PATCH', '/api/account', { name: '  Mara ' })).json()
    expect(renamed.person.name).toBe('Mara')
    const change = (current: string, password: string) => owner('POST', '/api/account/password', { current, password })
    const wrong = await change('wrong', 'a-brand-new-password')
    expect([wrong.status, (await wrong.json()).data.fields.current]).toEqual([422, expect.stringContaining('not the')])
    expect(await statusOf(change(PASSWORD, 'short'))).toBe(422)
    expect(await statusOf(change(PASSWORD, 'a-brand-new-password'))).toBe(200)
    expect(await statusOf(owner('GET', site('today')))).toBe(200)
    expect(await statusOf(elsewhere('GET', site('today')))).toBe(401)
  })
})

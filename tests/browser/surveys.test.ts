import { createServer } from 'node:http'
import { AxeBuilder } from '@axe-core/playwright'
import { expect, type Page } from '@playwright/test'
import { sql } from 'drizzle-orm'
import { CROSSINGS_SURVEY } from '../../demo/data/survey'
import type { Group } from '../../core/targeting/condition'
import { createAudience, deleteAudience } from '../../server/services/audiences/savedAudiences'
import { updateAudience } from '../../server/services/audiences/updateAudience'
import { fillSheet } from '../../server/services/experiments/changeSheet'
import { createExperiment, moveExperiment } from '../../server/services/experiments/experiments'
import { noteFirstReport } from '../../server/services/sites/sites'
import { createSurvey, listSurveys, setSurveyState, updateSurvey } from '../../server/services/surveys/surveys'
import { scriptLine } from '../../shared/delivery/scriptLine'
import type { SurveyContent } from '../../shared/surveys/survey'
import { folded } from '../arrivals'
import { PLAN, primaryMetric } from '../metrics'
import { createTeam } from './team'
import { newVisitor, reported, served, withClock } from './visitor'
import { test, type World } from './world'

const survey = (page: Page) => page.locator('vetch-survey').getByRole('dialog')

const scriptIsThere = (page: Page) =>
  page.waitForFunction(() =>
    (performance.getEntriesByType('resource') as PerformanceResourceTiming[]).some(
      ({ name, responseEnd }) => /kind=survey/.test(name) && responseEnd > 0,
    ),
  )

async function runSurvey(world: World, name: string, changes: Partial<SurveyContent>) {
  const team = await createTeam(world, name)
  const content = { ...CROSSINGS_SURVEY.content, share: 10_000, ...changes }
  const { id } = await createSurvey(world.database, team.siteId, null, { name: 'What is missing', content })
  const target = { siteId: team.siteId, surveyId: id, personId: null }
  await setSurveyState(world.database, target, 'running', new Date())
  return { team, id, line: scriptLine(world.url, team.siteKey) }
}

test('a visitor is asked at the moment chosen, answers by key, is led by the answers, and is not asked again', async ({
  world,
  browser,
  page,
}) => {
  const { team, id, line } = await runSurvey(world, 'surveyed', { moment: { kind: 'event', name: 'fares shown' } })
  await world.serveDemo({ scriptLine: line })
  const context = await newVisitor(browser)
  const visitor = await context.newPage()
  await withClock(visitor)
  const tell = () =>
    visitor.evaluate(() => (window as unknown as { vetch: object[] }).vetch.push({ event: 'fares shown' }))
  // Nobody is asked on other pages.
  await visitor.goto(`${world.demoOrigin}/help`)
  await tell()
  await visitor.goto(`${world.demoOrigin}/crossings/torrin`)
  await scriptIsThere(visitor)
  await expect(survey(visitor)).toHaveCount(0)
  await expect
    .poll(async () => {
      await tell()
      return survey(visitor).count()
    })
    .toBe(1)
  await expect(visitor.locator(':focus')).toHaveCount(0)

  const { violations } = await new AxeBuilder({ page: visitor }).include('vetch-survey').analyze()
  expect(violations).toEqual([])
  const next = survey(visitor).getByRole('button', { name: 'Next' })
  await expect(next).toBeDisabled()
  await survey(visitor).getByLabel('To compare fares and times').focus()
  await visitor.keyboard.press('Space')
  await visitor.keyboard.press('Tab')
  await expect(next).toBeFocused()
  await visitor.keyboard.press('Enter')
  await survey(visitor).getByRole('radio', { name: '4' }).check()
  await next.click()
  await survey(visitor).getByRole('textbox').fill('Are dogs allowed? <img src=x onerror=alert(1)>')
  await survey(visitor).getByRole('button', { name: 'Send' }).click()
  await expect(survey(visitor).getByText('Thank you.')).toBeVisible()
  await survey(visitor).getByRole('button', { name: 'Close' }).click()
  await expect(survey(visitor)).toHaveCount(0)
  await reported(visitor)
  await visitor.goto(`${world.demoOrigin}/crossings/ennisay`)
  await reported(visitor)
  await tell()
  await visitor.clock.fastForward(1000)
  await expect(survey(visitor)).toHaveCount(0)
  await context.close()
  await folded(world.database, team.siteId)
  // What was clicked within the survey is no click on the page.
  const { rows } = await world.database.execute<{ type: string; count: number }>(sql`
    SELECT type, count(*)::int AS count FROM event
    WHERE site_id = ${team.siteId} AND type IN ('click', 'asked', 'answer') GROUP BY type ORDER BY type`)
  expect(rows).toEqual([
    { type: 'answer', count: 3 },
    { type: 'asked', count: 1 },
  ])

  await team.signIn(page, 'owner', `evidence/surveys/${id}`)
  await expect(page.getByText('Asked: 1. Answered: 1, which is 100.0 %')).toBeVisible()
  await expect(page.getByRole('row', { name: /To compare fares and times/ })).toContainText('100.0 %')
  await expect(page.getByRole('row', { name: /^4/ })).toContainText('100.0 %')
  await page.getByLabel('Search the answers').fill('dogs')
  await expect(page.getByRole('row', { name: /Are dogs allowed\? <img src=x/ })).toBeVisible()
  // What is in sight gets a tag, which is counted, and undone in one step.
  await page.getByLabel('Tag', { exact: true }).fill('Animals ')
  await page.getByRole('button', { name: 'Tag this answer' }).click()
  const tags = page.getByRole('button', { name: 'animals 1, 100 %' })
  await expect(tags).toBeVisible()
  await page.getByRole('button', { name: 'Remove the tag animals' }).click()
  await expect(tags).toHaveCount(0)
  await page.getByRole('button', { name: 'Undo' }).last().click()
  await expect(tags).toBeVisible()
  await page.reload()
  await tags.click()
  await expect(page.getByRole('row', { name: /Are dogs allowed/ })).toContainText('animals')
  await page.getByLabel('Search the answers').fill('cats')
  await expect(page.getByText('No answer matches.')).toBeVisible()
  // With the visitor's other data, their tags are gone.
  const left = () => world.database.execute(sql`SELECT tag FROM answer_tag WHERE site_id = ${team.siteId}`)
  expect((await left()).rows).toEqual([{ tag: 'animals' }])
  const asked = await world.database.execute<{ id: string }>(sql`
    SELECT visitor_id AS id FROM event WHERE site_id = ${team.siteId} AND type = 'asked'`)
  await page.request.delete(`${world.url}/api/sites/${team.siteId}/visitors/${asked.rows[0]!.id}`)
  await expect.poll(async () => (await left()).rows).toEqual([])
})

test('a survey comes after seconds, at a depth, and to those who are about to leave', async ({ world, browser }) => {
  const tall = createServer((request, response) => {
    response.setHeader('content-type', 'text/html')
    response.end(`<!doctype html><head>${lines.get(request.url ?? '') ?? ''}</head><p style="height: 3000px">Tall</p>`)
  })
  const lines = new Map<string, string>()
  const pages: SurveyContent['pages'] = [{ match: 'begins', value: '/' }]
  const moments: Record<string, SurveyContent['moment']> = {
    '/seconds': { kind: 'seconds', seconds: 0.4 },
    '/depth': { kind: 'depth', percent: 70 },
    '/leaving': { kind: 'leaving' },
  }
  for (const [path, moment] of Object.entries(moments))
    lines.set(path, (await runSurvey(world, `moment${path.slice(1)}`, { moment, pages })).line)
  await world.serve(tall)
  const open = async (path: string) => {
    const context = await newVisitor(browser)
    const visitor = await context.newPage()
    await withClock(visitor)
    await visitor.goto(world.demoOrigin + path)
    await scriptIsThere(visitor)
    return visitor
  }
  const waiting = await open('/seconds')
  await expect(survey(waiting)).toBeVisible()
  await survey(waiting).getByLabel('To book a crossing').focus()
  await waiting.keyboard.press('Escape')
  await expect(survey(waiting)).toHaveCount(0)

  const reading = await open('/depth')
  await reading.mouse.wheel(0, 800)
  await reading.clock.fastForward(1000)
  await expect(survey(reading)).toHaveCount(0)
  await reading.mouse.wheel(0, 1500)
  await expect(survey(reading)).toBeVisible()

  const leaving = await open('/leaving')
  await leaving.clock.fastForward(3200)
  await expect(survey(leaving)).toHaveCount(0)
  await leaving.evaluate(() =>
    document.documentElement.dispatchEvent(
      new MouseEvent('mouseout', { bubbles: true, clientY: -3, relatedTarget: null }),
    ),
  )
  await expect(survey(leaving)).toBeVisible()
  for (const each of [waiting, reading, leaving]) await each.context().close()
})

test('a survey asks its audience alone, as conditions are when its moment comes, and follows a saved audience', async ({
  world,
  browser,
}) => {
  const page = { match: 'begins', value: '/' } as const
  const { team, id, line } = await runSurvey(world, 'of-some', {
    moment: { kind: 'event', name: 'now' },
    pages: [page],
  })
  const speaksGerman: Group = { join: 'all', of: [{ fact: 'language', is: 'begins', texts: ['de'] }] }
  const saved = await createAudience(world.database, team.siteId, null, { name: 'German', conditions: speaksGerman })
  const hasSeenHelp = { fact: 'seen', page: { match: 'exact', value: '/help' }, is: 'least', number: 1 } as const
  const audience: Group = { join: 'all', of: [{ fact: 'audience', is: 'yes', id: saved.id }, hasSeenHelp] }
  const { name, content, version } = (await listSurveys(world.database, team.siteId))[0]!
  const target = { siteId: team.siteId, surveyId: id, personId: null }
  await updateSurvey(world.database, target, { name, content: { ...content, audience }, version } as never)
  await world.serveDemo({ scriptLine: line })

  const isAsked = async (locale: string, ...paths: string[]) => {
    const context = await newVisitor(browser, { locale })
    const visitor = await context.newPage()
    for (const path of paths) {
      await visitor.goto(world.demoOrigin + path)
      await scriptIsThere(visitor)
      await reported(visitor)
    }
    // The script has come, and has begun once it answers to a second call.
    for (let call = 0; call < 3; call++) {
      await visitor.evaluate(() => (window as unknown as { vetch: object[] }).vetch.push({ event: 'now' }))
      await visitor.evaluate(() => new Promise<void>((idle) => requestIdleCallback(() => idle())))
    }
    const count = await survey(visitor).count()
    await context.close()
    return count === 1
  }
  expect(await isAsked('de-AT', '/help', '/timetable')).toBe(true)
  expect(await isAsked('de-AT', '/timetable')).toBe(false)
  expect(await isAsked('en-IE', '/help', '/timetable')).toBe(false)

  const speaksEnglish: Group = { join: 'all', of: [{ fact: 'language', is: 'begins', texts: ['en'] }] }
  const english = { name: 'English', conditions: speaksEnglish }
  const changed = await updateAudience(world.database, team.siteId, null, saved.id, english)
  expect(changed.uses).toEqual([{ kind: 'survey', id, name, isOver: false }])
  await expect(deleteAudience(world.database, team.siteId, null, saved.id)).rejects.toMatchObject({ status: 409 })
  await served(world.url, team.siteKey, '"en"')
  expect(await isAsked('en-IE', '/help', '/timetable')).toBe(true)
  expect(await isAsked('de-AT', '/help', '/timetable')).toBe(false)
})

test('a page that demands trusted types gets its survey and every kind of edit', async ({ world, browser }) => {
  const { team, line } = await runSurvey(world, 'trusted', { moment: { kind: 'seconds', seconds: 0.2 } })
  const { id: experimentId } = await createExperiment(world.database, team.siteId, null, 'Code and HTML')
  const target = { siteId: team.siteId, experimentId, personId: null }
  const edits = [
    { id: 'edit-html', kind: 'html', selector: 'h1', original: '', value: '<em>Torrin</em> by boat' },
    { id: 'edit-code', kind: 'script', value: 'document.title = "Changed by code"' },
  ] as const
  await fillSheet(world.database, target, {
    pageRules: [{ match: 'begins', value: '/crossings' }],
    plan: PLAN,
    metrics: [primaryMetric('Orders', 'conversion', { type: 'event', name: 'order' })],
    variants: [
      { name: 'Control', weight: 1, edits: [] },
      { name: 'Changed', weight: 9999, edits: [...edits] },
    ],
  })
  await noteFirstReport(world.database, team.siteId)
  await moveExperiment(world.database, target, 'start')
  const contentSecurityPolicy = `require-trusted-types-for 'script'; trusted-types vetch 'allow-duplicates'`
  await world.serveDemo({ scriptLine: line, contentSecurityPolicy })
  const context = await newVisitor(browser)
  const visitor = await context.newPage()
  const violations: string[] = []
  visitor.on(
    'console',
    (message) => /TrustedScript|TrustedHTML|trusted-types/.test(message.text()) && violations.push(message.text()),
  )
  await visitor.goto(`${world.demoOrigin}/crossings/torrin`)
  await expect(visitor.locator('h1 em')).toHaveText('Torrin')
  await expect(visitor).toHaveTitle('Changed by code')
  await expect(survey(visitor)).toBeVisible()
  expect(violations).toEqual([])
  await context.close()
})

test('a survey is written beside its preview, saved as it is typed, and started as it is on the screen', async ({
  world,
  page,
}) => {
  const team = await createTeam(world, 'writer')
  const stored = async () =>
    (
      await world.database.execute<{ content: SurveyContent; state: string; version: number }>(sql`
      SELECT content, state, version FROM survey WHERE site_id = ${team.siteId}`)
    ).rows
  await team.signIn(page, 'owner', 'evidence/surveys')
  await page.getByRole('button', { name: 'New survey' }).click()
  const preview = page.getByRole('region', { name: 'Preview' }).locator('vetch-survey')
  await expect(preview.getByText('What did you not find here?')).toBeVisible()
  await page.getByRole('button', { name: 'Add a question' }).click()
  const second = page.getByRole('group', { name: 'Question 2' })
  // Nothing is stored before it is saved, and what is wrong stays as it was typed.
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(second.getByText('Write the question.')).toBeVisible()
  expect(await stored()).toEqual([])
  await second.getByLabel('What it asks').fill('Will you come back?')
  await second.getByRole('textbox', { name: 'Choice 1' }).fill('Yes')
  await page.reload()
  await expect(second.getByRole('textbox', { name: 'Choice 1' })).toHaveValue('Yes')
  await second.getByRole('textbox', { name: 'Choice 2' }).fill('No')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByText('Saved.', { exact: true })).toBeVisible()

  // From now on it is saved as it is typed; a number that is none stays, is not saved, and keeps it from being started.
  const start = page.getByRole('button', { name: 'Start', exact: true })
  await expect(start).toBeEnabled()
  const seconds = page.getByLabel('Seconds on the page')
  await seconds.fill('')
  await seconds.pressSequentially('soon')
  await expect(page.getByText('Type the seconds as a number.')).toBeVisible()
  await expect(seconds).toHaveValue('soon')
  await expect(start).toBeDisabled()
  await expect(page.getByText('You can start once everything is saved.')).toBeVisible()
  const share = page.getByLabel('Share of the visitors')
  await share.fill('half')
  await expect(page.getByText('Type the share as a number from 0 to 100.')).toBeVisible()
  await share.fill('12.5')
  await seconds.fill('1.5')
  await expect(page.getByText('Saved.', { exact: true })).toBeVisible()
  await expect(seconds).toHaveValue('1.5')
  await expect(page.getByText('Type the seconds as a number.')).toHaveCount(0)
  expect((await stored())[0]!.content).toMatchObject({ share: 1250, moment: { seconds: 1.5 } })

  await second.getByRole('textbox', { name: 'Choice 2' }).fill('')
  await expect(second.getByText('Write the choice.')).toBeVisible()
  await expect(start).toBeDisabled()
  await page.locator('h1').click()
  await page.keyboard.press('Control+z')
  await expect(second.getByRole('textbox', { name: 'Choice 2' })).toHaveValue('No')
  await expect(page.getByText('Saved.', { exact: true })).toBeVisible()
  await preview.getByRole('textbox').fill('Nothing')
  await preview.getByRole('button', { name: 'Next' }).click()
  await expect(preview.getByText('Will you come back?')).toBeVisible()

  // The start asks, and says what would be shown.
  await start.click()
  const dialog = page.getByRole('dialog', { name: 'Start this survey?' })
  await expect(dialog.getByText('Will you come back?')).toBeVisible()
  await expect(dialog.getByText('12.5 % of the visitors')).toBeVisible()
  await page.keyboard.press('Escape')
  expect((await stored())[0]!.state).toBe('draft')
  await start.click()
  await dialog.getByRole('button', { name: 'Start' }).click()
  await expect(page.getByText('Started. Visitors see it within minutes.')).toBeVisible()
  const { rows } = await world.database.execute<{ kinds: string }>(
    sql`SELECT content->'entries' AS kinds FROM site_file WHERE site_id = ${team.siteId}`,
  )
  expect(JSON.stringify(rows[0]!.kinds)).toContain('"survey"')

  // What runs changes when somebody says so, who hears what becomes of the answers.
  const { version } = (await stored())[0]!
  await second.getByLabel('What it asks').fill('Will you ever come back?')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  const change = page.getByRole('dialog', { name: 'Change the questions of a running survey?' })
  await expect(change.getByText('Answers so far were given to the earlier questions.')).toBeVisible()
  expect((await stored())[0]!.version).toBe(version)
  await change.getByRole('button', { name: 'Save' }).click()
  await expect.poll(async () => (await stored())[0]!.version).toBe(version + 1)
  // An earlier version is written over what stands there, and saved like any other change.
  await page.getByText('Versions', { exact: true }).click()
  await page.getByRole('button', { name: `Restore version ${version}`, exact: true }).click()
  await expect(second.getByLabel('What it asks')).toHaveValue('Will you come back?')
  expect((await stored())[0]!.version).toBe(version + 1)
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await change.getByRole('button', { name: 'Save' }).click()
  await expect.poll(async () => (await stored())[0]!.version).toBe(version + 2)
  await expect(page.getByText(`Version ${version + 2} ·`)).toBeVisible()
  await page.getByRole('button', { name: 'End', exact: true }).click()
  await expect(page.getByText('Ended. No visitor sees it now.')).toBeVisible()
})

test('a survey that somebody else has changed is not started unseen', async ({ world, page }) => {
  const team = await createTeam(world, 'unseen')
  const { id, version, name, content } = await createSurvey(world.database, team.siteId, null, {
    name: 'Changed elsewhere',
    content: CROSSINGS_SURVEY.content,
  })
  await team.signIn(page, 'owner', `evidence/surveys/${id}?part=edit`)
  await expect(page.getByRole('button', { name: 'Start', exact: true })).toBeEnabled()
  const target = { siteId: team.siteId, surveyId: id, personId: null }
  await updateSurvey(world.database, target, { name, content: { ...content, share: 10_000 }, version })
  await page.getByRole('button', { name: 'Start', exact: true }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Start' }).click()
  await expect(page.getByText('Somebody else has changed this survey.')).toBeVisible()
  await page.reload()
  await page.getByRole('button', { name: 'Start', exact: true }).click()
  await expect(page.getByRole('dialog').getByText(/^100(\.0)? % of the visitors/)).toBeVisible()
})

test('what is typed while a survey is saved, or without a network, is saved as well; over somebody else’s only when asked', async ({
  world,
  page,
}) => {
  const team = await createTeam(world, 'meanwhile')
  const { id, version, content } = await createSurvey(world.database, team.siteId, null, {
    name: 'Written over',
    content: CROSSINGS_SURVEY.content,
  })
  const stored = async () =>
    (await world.database.execute<{ name: string }>(sql`SELECT name FROM survey WHERE id = ${id}`)).rows[0]!.name
  await team.signIn(page, 'owner', `evidence/surveys/${id}?part=edit`)
  const called = page.getByLabel('Name, for the team')
  const saved = page.getByText('Saved.', { exact: true })
  const update = (request: { url: () => string; method: () => string }) =>
    request.method() === 'PATCH' && request.url().endsWith(`/surveys/${id}`)

  let letGo = () => {}
  const isHeld = new Promise<void>((resolve) => (letGo = resolve))
  await page.route(`**/surveys/${id}`, async (route) => {
    if (route.request().method() === 'PATCH') await isHeld
    await route.continue()
  })
  const first = page.waitForRequest(update)
  await called.fill('First')
  await first
  await called.fill('Second ')
  letGo()
  await expect.poll(stored).toBe('Second')
  await expect(saved).toBeVisible()
  await page.unroute(`**/surveys/${id}`)

  await page.context().setOffline(true)
  const failed = page.waitForEvent('requestfailed', update)
  await called.fill('Third')
  await failed
  await expect(page.getByText('Not saved yet.')).toBeVisible()
  await page.context().setOffline(false)
  await expect.poll(stored).toBe('Third')
  await expect(saved).toBeVisible()

  // A tab that is loaded anew with unsaved words does not save them over what came since.
  await page.context().setOffline(true)
  const failedAgain = page.waitForEvent('requestfailed', update)
  await called.fill('Mine')
  await failedAgain
  const { rows } = await world.database.execute<{ version: number }>(sql`SELECT version FROM survey WHERE id = ${id}`)
  expect(rows[0]!.version).toBeGreaterThan(version)
  const target = { siteId: team.siteId, surveyId: id, personId: null }
  await updateSurvey(world.database, target, { name: 'Theirs', content, version: rows[0]!.version })
  await page.context().setOffline(false)
  const outdated = page.getByText('Somebody else has changed this survey. Your changes are not saved.')
  await expect(outdated).toBeVisible()
  await page.reload()
  await expect(outdated).toBeVisible()
  await expect(called).toHaveValue('Mine')
  expect(await stored()).toBe('Theirs')
  await page.getByRole('button', { name: 'Use mine' }).click()
  await expect.poll(stored).toBe('Mine')
  await expect(outdated).toHaveCount(0)
})

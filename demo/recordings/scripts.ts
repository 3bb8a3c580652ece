import type { Page } from '@playwright/test'
import type { Random } from '../visitors/random'

/** One visit as a person would make it, on the demo site. */
export interface ScriptedVisit {
  device: 'phone' | 'desktop'
  country: string
  act: (page: Page, random: Random) => Promise<void>
}

/** A pause as people make it, in ms. */
const rest = (page: Page, random: Random, low: number, high: number) => page.waitForTimeout(random.between(low, high))

async function type(page: Page, random: Random, label: string | RegExp, text: string): Promise<void> {
  const field = page.getByLabel(label)
  await field.click()
  await rest(page, random, 300, 900)
  await field.pressSequentially(text, { delay: random.between(60, 160) })
}

async function scroll(page: Page, random: Random, to: number): Promise<void> {
  for (let y = 0; y < to; y += 120) {
    await page.mouse.wheel(0, 120)
    await rest(page, random, 90, 260)
  }
}

async function open(page: Page, random: Random, name: string): Promise<void> {
  await rest(page, random, 600, 1600)
  await page.getByRole('link', { name, exact: true }).first().click()
  await page.waitForLoadState()
}

async function fillBooking(page: Page, random: Random): Promise<void> {
  await rest(page, random, 800, 1800)
  await page.getByLabel('Crossing').selectOption('torrin')
  await page.getByLabel('Day').click()
  await rest(page, random, 700, 1500)
  await page.getByLabel('Day').fill('2027-06-17')
  await page.getByLabel('Adults').click()
  await rest(page, random, 400, 900)
  await page.getByLabel('Adults').fill('2')
}

/** Phones give up at the length of the vehicle. */
const leavesAtLength =
  (tries: number): ScriptedVisit['act'] =>
  async (page, random) => {
    await page.goto('/book')
    await fillBooking(page, random)
    const field = page.getByLabel(/Length of the vehicle/)
    for (let time = 0; time < tries; time++) {
      await field.click()
      await rest(page, random, 1800, 4200)
      await field.pressSequentially(String(4 + time), { delay: 220 })
      await rest(page, random, 700, 1700)
      await field.fill('')
      await page.locator('h1').click()
      await rest(page, random, 1200, 2400)
    }
  }

const books =
  (onFoot: boolean): ScriptedVisit['act'] =>
  async (page, random) => {
    await page.goto('/')
    await rest(page, random, 1200, 2600)
    await page.getByRole('button', { name: 'Find a crossing' }).click()
    await page.waitForLoadState()
    await fillBooking(page, random)
    if (onFoot) await page.locator('[name=vehicle]').selectOption('none')
    else await type(page, random, /Length of the vehicle/, '4.4')
    await page.getByRole('button', { name: 'Go on' }).click()
    await type(page, random, 'Name', 'Ada Made-Up')
    await type(page, random, 'E-mail address', 'ada@visitor.example')
    await page.getByRole('button', { name: 'Go on to payment' }).click()
    await type(page, random, /Card number/, '1234')
    await page.getByRole('button', { name: 'Pay now' }).click()
    await page.locator('#order-total').waitFor()
    await rest(page, random, 1500, 3000)
  }

/** The drawing looks as if it could be enlarged. */
const clicksTheDrawing =
  (island: string): ScriptedVisit['act'] =>
  async (page, random) => {
    await page.goto('/')
    await open(page, random, island)
    await rest(page, random, 900, 2000)
    await page.locator('svg.scene').first().click({ clickCount: 4, delay: 60 })
    await rest(page, random, 2400, 3200)
    await scroll(page, random, 480)
    await rest(page, random, 1500, 3500)
  }

const returnsFromTimetable: ScriptedVisit['act'] = async (page, random) => {
  await page.goto('/')
  await open(page, random, 'Timetable')
  await scroll(page, random, 240)
  await rest(page, random, 2000, 3500)
  await open(page, random, 'Kittiwake Crossings')
  await rest(page, random, 1500, 2500)
  await open(page, random, 'Timetable')
  await rest(page, random, 1500, 2500)
}

const looksForDogs: ScriptedVisit['act'] = async (page, random) => {
  await page.goto('/crossings/ennisay')
  await scroll(page, random, 600)
  await open(page, random, 'Help')
  await rest(page, random, 2500, 4500)
  await open(page, random, 'Kittiwake Crossings')
  await scroll(page, random, 480)
  await rest(page, random, 1500, 2500)
}

/** Whoever reads for long enough is asked what is missing. */
const answersSurvey =
  (words: string): ScriptedVisit['act'] =>
  async (page, random) => {
    await page.goto('/crossings/little-skell')
    await scroll(page, random, 960)
    const survey = page.locator('vetch-survey').getByRole('dialog')
    await survey.waitFor({ timeout: 30_000 })
    await rest(page, random, 900, 1800)
    await survey.getByLabel('To find out what may come on board').check()
    await survey.getByRole('button', { name: 'Next' }).click()
    await rest(page, random, 700, 1400)
    await survey.getByRole('textbox').pressSequentially(words, { delay: random.between(60, 140) })
    await survey.getByRole('button', { name: 'Send' }).click()
    await rest(page, random, 1500, 2500)
  }

const looksAtPasses: ScriptedVisit['act'] = async (page, random) => {
  await page.goto('/passes')
  await rest(page, random, 1500, 2500)
  await page.getByRole('link', { name: 'Choose this pass' }).click()
  await rest(page, random, 2500, 4000)
}

/** What people on the demo site do, told often enough to be found again. */
export const SCRIPTED_VISITS: readonly ScriptedVisit[] = [
  ...[1, 2, 2, 1, 3, 2].map((tries): ScriptedVisit => ({ device: 'phone', country: 'IE', act: leavesAtLength(tries) })),
  { device: 'desktop', country: 'GB', act: leavesAtLength(1) },
  ...(['phone', 'phone', 'desktop'] as const).map((device) => ({ device, country: 'IE', act: books(true) })),
  ...(['desktop', 'desktop', 'phone'] as const).map((device) => ({ device, country: 'DE', act: books(false) })),
  ...['Torrin', 'Ennisay', 'Little Skell', 'Torrin'].map((island, index): ScriptedVisit => ({
    device: index % 2 ? 'desktop' : 'phone',
    country: 'FR',
    act: clicksTheDrawing(island),
  })),
  ...(['phone', 'desktop', 'phone'] as const).map((device) => ({ device, country: 'GB', act: returnsFromTimetable })),
  ...(['phone', 'phone', 'desktop'] as const).map((device) => ({ device, country: 'NL', act: looksForDogs })),
  ...(['phone', 'desktop'] as const).map((device) => ({ device, country: 'IE', act: looksAtPasses })),
  { device: 'phone', country: 'GB', act: answersSurvey('Can my dog come along on deck?') },
  { device: 'desktop', country: 'IE', act: answersSurvey('what a dog costs') },
]

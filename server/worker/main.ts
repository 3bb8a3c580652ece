import { readFile, statfs } from 'node:fs/promises'
import { join } from 'node:path'
import { setTimeout as wait } from 'node:timers/promises'
import { connect, type Database } from '../database/connect'
import { isDatabaseAway } from '../database/isDatabaseAway'
import { ensurePartitions } from '../database/partitions'
import { keepHouse } from '../jobs/housekeeping'
import { noteEnd, resumeRefolds } from '../jobs/backgroundJobs'
import { takeVariantPictures, type PictureTools } from '../jobs/pictures'
import { HOUSEKEEPING, openQueue, PICTURES, REFOLD, type PicturesJob, type RefoldJob } from '../jobs/queue'
import { refoldExperiment } from '../jobs/refold'
import { listFrom, textFrom, untilAskedToEnd } from '../processes/environment'
import { beginBeating } from '../processes/ownBeat'
import { problemOfSending, type MailSettings } from '../mail/sendLetter'
import { gatherLetters } from '../services/notifications/gatherLetters'
import { sendDueLetters } from '../services/notifications/sendDueLetters'
import { deliverDue } from '../services/webhooks/deliverDue'
import { checkDrift, dueForDriftCheck } from '../services/experiments/driftCheck'
import { dueForHomeCheck, lookAtHome } from '../services/goingHome/lookAtHome'
import { browserProgram } from '../browser/launch'
import { checkRollout, dueForRolloutCheck } from '../services/rollouts/rolloutCheck'
import { followSchedules } from '../services/experiments/schedule'
import { keepStyleSheets, recordedLately } from '../services/recordings/styleSheets'
import { takeBackEverywhere } from '../services/results/fold'
import { foldAndSummarize, refreshRunning } from '../services/results/foldAndSummarize'
import { moveSplits } from '../services/traffic/movingSplits'
import { followRamps } from '../services/traffic/ramps'
import { siteReach } from '../services/sites/reach'
import { pageTrier } from '../services/sites/tryPage'
import { watchedSites, watchSite } from '../services/watch/watchSite'

const FOLD_EVERY = 1000
/** For how long one site is folded before it is the next one's turn, in ms. */
const FOLD_BUDGET = 10_000
/** Verdicts depend on the time that has passed, also where nothing comes. */
const REFRESH_EVERY = 60 * 60 * 1000
const AGAIN_AFTER = 2000
/** Which experiments are due is asked this often; each is looked at once an hour. */
const LOOK_EVERY = 60 * 1000
/** How long a style sheet may have said something else before its copy does. */
const STYLE_SHEETS_EVERY = 60 * 60 * 1000
/** How late the watch may see that something is wrong. */
const WATCH_EVERY = 5 * 60 * 1000
/** How late a letter may be written or tried again. */
const LETTERS_EVERY = 5000
/** How late a webhook may be told. */
const WEBHOOKS_EVERY = 2000
/** How late a scheduled start or end may come. */
const FOLLOW_EVERY = 5000

/** The process that works in the background: folds what comes, and does the jobs of the queue. */
async function main(): Promise<void> {
  const url = textFrom('NUXT_DATABASE_URL')
  const database = connect(url, 6)
  const stopping = new AbortController()
  void untilAskedToEnd().then(() => stopping.abort())
  const beat = beginBeating(database, 'worker')

  await untilItWorks(stopping.signal, () => ensurePartitions(database, new Date()))
  const queue = await untilItWorks(stopping.signal, () => openQueue(url, 'worker'))
  if (!queue) return
  await queue.work<RefoldJob>(REFOLD, { pollingIntervalSeconds: 0.5 }, async ([job]) => {
    await refoldExperiment(database, job!.data).catch(async (error: unknown) => {
      await noteEnd(database, job!.data, 'failed', 'It failed and will be tried again.').catch(() => {})
      throw error
    })
  })
  const tools = await pictureTools()
  await queue.work<PicturesJob>(PICTURES, { pollingIntervalSeconds: 0.5 }, async ([job]) => {
    await takeVariantPictures(database, job!.data, tools).catch(async (error: unknown) => {
      await noteEnd(database, job!.data, 'failed', 'It failed and will be tried again.').catch(() => {})
      throw error
    })
  })
  await queue.work(HOUSEKEEPING, () => keepHouse(database, new Date()))
  await queue.schedule(HOUSEKEEPING, '17 3 * * *')
  await untilItWorks(stopping.signal, () => resumeRefolds(database, queue))
  await untilItWorks(stopping.signal, () => takeBackEverywhere(database.$client))
  console.log('The worker is ready.')

  const loops = [
    repeat(stopping.signal, FOLD_EVERY, async () => {
      const began = performance.now()
      await foldAndSummarize(database, new Date(), { budget: FOLD_BUDGET })
      beat.noteWork(performance.now() - began)
    }),
    repeat(stopping.signal, REFRESH_EVERY, () => refreshRunning(database)),
    repeat(stopping.signal, LOOK_EVERY, () => checkAllDrift(database, stopping.signal)),
    repeat(stopping.signal, STYLE_SHEETS_EVERY, () => keepAllStyleSheets(database, stopping.signal)),
    repeat(stopping.signal, WATCH_EVERY, () => watchAll(database, stopping.signal)),
    repeat(stopping.signal, LETTERS_EVERY, () => writeAndSendLetters(database)),
    repeat(stopping.signal, WEBHOOKS_EVERY, () => deliverDue(database, trustedOrigins(), new Date())),
    repeat(stopping.signal, FOLLOW_EVERY, () => followSchedules(database, new Date())),
    repeat(stopping.signal, LOOK_EVERY, () => followRamps(database, new Date())),
    repeat(stopping.signal, LOOK_EVERY, () => moveSplits(database, new Date())),
  ]
  await Promise.all(loops)
  await beat.end()
  await queue.stop({ graceful: true, timeout: 5000 }).catch(() => {})
  await database.$client.end()
}

/** Looks at the pages of what runs. A page that makes trouble keeps no other from being looked at. */
async function checkAllDrift(database: Database, signal: AbortSignal): Promise<void> {
  const file = join(deliveryFolder(), '../threads/inspectPage.mjs')
  for (const each of await dueForDriftCheck(database, new Date())) {
    if (signal.aborted) return
    const reach = await siteReach(database, each.siteId, trustedOrigins())
    await checkDrift(database, each, new Date(), pageTrier(file, reach)).catch(report)
  }
  for (const each of await dueForRolloutCheck(database, new Date())) {
    if (signal.aborted) return
    const reach = await siteReach(database, each.siteId, trustedOrigins())
    await checkRollout(database, each, new Date(), pageTrier(file, reach)).catch(report)
  }
  if (!browserProgram()) return
  const tools = await pictureTools()
  for (const each of await dueForHomeCheck(database, new Date())) {
    if (signal.aborted) return
    await lookAtHome(database, each, tools, new Date()).catch(report)
  }
}

/** What one site is like keeps no other from being watched. */
async function watchAll(database: Database, signal: AbortSignal): Promise<void> {
  const disk = await diskOfData()
  for (const siteId of await watchedSites(database)) {
    if (signal.aborted) return
    await watchSite(database, siteId, new Date(), disk).catch(report)
  }
}

/** Where no mail server is set, nothing is written that would go out days later. */
async function writeAndSendLetters(database: Database): Promise<void> {
  const smtpUrl = process.env.NUXT_SMTP_URL
  if (!smtpUrl) return
  const mail: MailSettings = { smtpUrl, mailFrom: textFrom('NUXT_MAIL_FROM') }
  const origin = textFrom('NUXT_OWN_ORIGIN')
  await gatherLetters(database, origin, new Date())
  await sendDueLetters(database, { origin, secret: textFrom('NUXT_SESSION_PASSWORD') }, new Date(), (...letter) =>
    problemOfSending(mail, ...letter),
  )
}

/** The disk that holds the database, where it is on this machine. */
async function diskOfData(): Promise<{ free: number; size: number } | null> {
  const folder = process.env.NUXT_DATA_FOLDER
  if (!folder) return null
  // A folder that is closed to other users cannot be asked.
  const found = await statfs(folder).catch(() => null)
  return found && { free: found.bavail * found.bsize, size: found.blocks * found.bsize }
}

/** What one site's pages do keeps no other from being looked at. */
async function keepAllStyleSheets(database: Database, signal: AbortSignal): Promise<void> {
  for (const siteId of await recordedLately(database, new Date())) {
    if (signal.aborted) return
    await keepStyleSheets(database, siteId, new Date(), trustedOrigins()).catch(report)
  }
}

const deliveryFolder = () => process.env.NUXT_DELIVERY_DIRECTORY ?? '.output/delivery'
const trustedOrigins = () => listFrom('NUXT_TRUSTED_ORIGINS')

async function pictureTools(): Promise<PictureTools> {
  return {
    trustedOrigins: trustedOrigins(),
    layoutScript: await readFile(join(deliveryFolder(), 'layout.js'), 'utf8'),
  }
}

/** Runs work again and again, a pause after the end of each run. What fails is tried again at the next run. */
async function repeat(signal: AbortSignal, pause: number, work: () => Promise<unknown>): Promise<void> {
  while (!signal.aborted) {
    await work().catch(report)
    await wait(pause, null, { signal }).catch(() => {})
  }
}

/** Tries until it works: the database may come later than the worker. */
async function untilItWorks<Result>(signal: AbortSignal, work: () => Promise<Result>): Promise<Result | null> {
  while (!signal.aborted) {
    try {
      return await work()
    } catch (error) {
      report(error)
      await wait(AGAIN_AFTER, null, { signal }).catch(() => {})
    }
  }
  return null
}

function report(error: unknown): void {
  if (error instanceof AggregateError) error.errors.forEach(report)
  else if (!isDatabaseAway(error)) console.error(error)
}

main().then(
  () => process.exit(0),
  (error: unknown) => {
    console.error(error)
    process.exit(1)
  },
)

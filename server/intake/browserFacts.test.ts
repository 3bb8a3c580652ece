import { expect, test } from 'vitest'
import { browserFacts } from '../../core/targeting/browserFacts'
import { readUserAgent } from './userAgent'

const MOZILLA = 'Mozilla/5.0'
const WEBKIT = 'AppleWebKit/537.36 (KHTML, like Gecko)'
const APPLE = 'AppleWebKit/605.1.15 (KHTML, like Gecko)'
const PLACES = [
  'Windows NT 10.0; Win64; x64',
  'Macintosh; Intel Mac OS X 10_15_7',
  'X11; Linux x86_64',
  'X11; CrOS x86_64 14541.0.0',
]
const AGENTS = [
  ...PLACES.flatMap((where) => [
    `${MOZILLA} (${where}) ${WEBKIT} Chrome/140.0.0.0 Safari/537.36`,
    `${MOZILLA} (${where}) ${WEBKIT} Chrome/139.0.0.0 Safari/537.36 Edg/139.0.0.0`,
    `${MOZILLA} (${where}) ${WEBKIT} Chrome/138.0.0.0 Safari/537.36 OPR/122.0.0.0`,
    `${MOZILLA} (${where}; rv:141.0) Gecko/20100101 Firefox/141.0`,
  ]),
  `${MOZILLA} (Macintosh; Intel Mac OS X 10_15_7) ${APPLE} Version/18.4 Safari/605.1.15`,
  `${MOZILLA} (iPhone; CPU iPhone OS 18_4 like Mac OS X) ${APPLE} Version/18.4 Mobile/15E148 Safari/604.1`,
  `${MOZILLA} (iPhone; CPU iPhone OS 17_2 like Mac OS X) ${APPLE} CriOS/140.0.7339.39 Mobile/15E148 Safari/604.1`,
  `${MOZILLA} (iPhone; CPU iPhone OS 17_2 like Mac OS X) ${APPLE} FxiOS/141.0 Mobile/15E148 Safari/605.1.15`,
  `${MOZILLA} (iPad; CPU OS 16_6 like Mac OS X) ${APPLE} Version/16.6 Mobile/15E148 Safari/604.1`,
  `${MOZILLA} (Linux; Android 10; K) ${WEBKIT} Chrome/140.0.0.0 Mobile Safari/537.36`,
  `${MOZILLA} (Linux; Android 10; K) ${WEBKIT} Chrome/140.0.0.0 Safari/537.36`,
  `${MOZILLA} (Linux; Android 13; SM-S918B) ${WEBKIT} SamsungBrowser/28.0 Chrome/130.0.0.0 Mobile Safari/537.36`,
  `${MOZILLA} (Android 14; Mobile; rv:141.0) Gecko/141.0 Firefox/141.0`,
  `${MOZILLA} (Android 14; Tablet; rv:141.0) Gecko/141.0 Firefox/141.0`,
  `${MOZILLA} (Linux; Android 10; K) ${WEBKIT} Chrome/139.0.0.0 Mobile Safari/537.36 EdgA/139.0.0.0`,
]

test.each(AGENTS)('%s is told alike in the browser and at intake', (agent) => {
  const { isRobot: _, browserVersion, ...kept } = readUserAgent(agent)
  expect(browserFacts(agent)).toEqual({ ...kept, browserVersion: browserVersion ?? undefined })
})

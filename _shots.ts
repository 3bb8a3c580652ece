import { chromium, type Page } from '@playwright/test'
const base = 'http://127.0.0.1:4100'
;(async () => {
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium-headless-shell', args: ['--no-sandbox'] })
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
  await page.request.post(base + '/api/account/sign-in', { data: { email: 'mara@kittiwake.example', password: 'harbor-light-42' }})
  const get = async <T>(path: string) => (await (await page.request.get(`${base}/api/sites/1/${path}`)).json()) as T
  const { items } = await get<{ items: { id: number; name: string; state: string }[] }>('experiments?limit=100')
  for (const i of items) console.log(i.id, i.state, i.name)
  const { hypotheses } = await get<{ hypotheses: { id: number; title: string; stage: string }[] }>('hypotheses')
  for (const h of hypotheses) console.log('h', h.id, h.stage, h.title)
  const recordings = await get<{ recordings: { visitor: string; session: string }[] }>('recordings?from=2026-11-01&to=2026-11-26')
  console.log(JSON.stringify(recordings).slice(0, 400))
  await browser.close()
})()

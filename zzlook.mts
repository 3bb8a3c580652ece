import { chromium } from '@playwright/test'
const b = await chromium.launch({ executablePath: '/usr/bin/chromium-headless-shell', args: ['--no-sandbox'] })
const p = await b.newPage({ viewport: { width: 1280, height: 800 } })
p.on('console', m => m.type()==='error' && console.log('console', m.text()))
await p.goto('http://127.0.0.1:4100/sign-in'); await p.locator('input').first().fill('mara@kittiwake.example'); await p.locator('input').nth(1).fill('harbor-light-42'); await p.keyboard.press('Enter'); await p.waitForURL(/today/)
const [out, path, ...acts] = process.argv.slice(2)
await p.goto('http://127.0.0.1:4100' + path); await p.waitForLoadState('networkidle').catch(()=>{}); await p.waitForTimeout(1500)
for (const a of acts) { await eval('(async()=>{' + a + '})()') }
await p.screenshot({ path: out })
await b.close()

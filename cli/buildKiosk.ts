import { resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import vue from '@vitejs/plugin-vue'
import { build } from 'vite'

/** Bundles the demo's ticket kiosk. */
export async function buildKiosk(): Promise<void> {
  await build({
    root: resolve('demo/kiosk/app'),
    configFile: false,
    logLevel: 'warn',
    plugins: [vue()],
    build: { outDir: resolve('.output/kiosk'), emptyOutDir: true, modulePreload: false },
  })
}

if (process.argv[1] === fileURLToPath(import.meta.url)) await buildKiosk()

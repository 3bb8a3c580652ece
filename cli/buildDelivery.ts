import { fileURLToPath } from 'node:url'
import { build } from 'esbuild'

/** Bundles what runs on customers' pages into `.output/delivery/`. */
export async function buildDelivery(): Promise<void> {
  await build({
    entryPoints: { snippet: 'delivery/snippet/main.ts', overlay: 'delivery/overlay/main.ts' },
    outdir: '.output/delivery',
    bundle: true,
    minify: true,
    format: 'iife',
    target: ['es2020'],
    charset: 'utf8',
    legalComments: 'none',
  })
}

if (process.argv[1] === fileURLToPath(import.meta.url)) await buildDelivery()

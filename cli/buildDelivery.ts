import { fileURLToPath } from 'node:url'
import { build } from 'esbuild'

/** Bundles what runs beside the application: on customers' pages, and in the worker. */
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
  await build({
    entryPoints: { main: 'server/worker/main.ts' },
    outdir: '.output/worker',
    outExtension: { '.js': '.mjs' },
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: ['node20'],
    packages: 'external',
  })
}

if (process.argv[1] === fileURLToPath(import.meta.url)) await buildDelivery()

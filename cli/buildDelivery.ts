import { chmod, copyFile, mkdir, writeFile } from 'node:fs/promises'
import { fileURLToPath } from 'node:url'
import { resolve } from 'node:path'
import { build, type OutputFile, type Plugin } from 'esbuild'
import { minify } from 'terser'

/** Snippets for sites whose rules are all plain: they bring no code for any other. */
const WITH_PLAIN_RULES = {
  snippet: 'delivery/snippet/main.ts',
  snippetWithEveryKind: 'delivery/snippet/mainWithEveryKind.ts',
}
const ON_PAGES = {
  snippetWithRules: 'delivery/snippet/main.ts',
  snippetWithRulesAndEveryKind: 'delivery/snippet/mainWithEveryKind.ts',
  overlay: 'delivery/overlay/main.ts',
  preview: 'delivery/preview/main.ts',
  panel: 'delivery/panel/main.ts',
  recorder: 'delivery/recorder/main.ts',
  recording: 'delivery/recording/main.ts',
  survey: 'delivery/survey/main.ts',
  places: 'delivery/places/main.ts',
  device: 'delivery/device/main.ts',
  drift: 'delivery/drift/main.ts',
  layout: 'delivery/layout/main.ts',
  reveal: 'delivery/reveal/main.ts',
}

/** Lets browsers that know it compile every function while the script still comes in, beside the main thread. */
const COMPILE_AT_ONCE = '//# allFunctionsCalledOnLoad'

/** Properties of what the snippet keeps to itself: in no file, message or storage, so that they may have short names. */
const OWN_PROPERTIES = /^(applied|discard|holds|takeBack|returns|revert|records|isOpen|found|told)$/

/** Bundles what runs beside the application: on customers' pages, and in the worker. */
export async function buildDelivery(): Promise<void> {
  const outputFiles = [
    ...(await bundled(ON_PAGES, true, [])),
    ...(await bundled(WITH_PLAIN_RULES, false, [plainRulesOnly])),
  ]
  await mkdir('.output/delivery', { recursive: true })
  for (const { path, text } of outputFiles) {
    // Every visitor of a customer's site loads this: the smaller of two minifiers is worth a second pass.
    const { code } = await minify(text, {
      ecma: 2020,
      // Functions that are put in one another repeat themselves, and what is repeated is sent in no fewer bytes.
      compress: { passes: 2, inline: 1, unsafe_methods: true },
      mangle: { properties: path.includes('snippet') && { regex: OWN_PROPERTIES } },
      format: { ascii_only: false, preamble: COMPILE_AT_ONCE },
    })
    if (code === undefined) throw new Error(`${path} could not be minified.`)
    await writeFile(path, code)
  }
  await mkdir('.output/browser', { recursive: true })
  await copyFile('server/browser/browser.sh', '.output/browser/browser.sh')
  await chmod('.output/browser/browser.sh', 0o755)
  await build({
    entryPoints: {
      'worker/main': 'server/worker/main.ts',
      'gateway/main': 'server/gateway/main.ts',
      'reports/main': 'server/reports/main.ts',
      'browser/main': 'server/browser/main.ts',
      'threads/inspectPage': 'server/threads/inspectPage.ts',
      'threads/evidence': 'server/threads/evidence.ts',
      'threads/expression': 'server/threads/expression.ts',
      'threads/recordedChunk': 'server/threads/recordedChunk.ts',
      'threads/traffic': 'server/threads/traffic.ts',
    },
    outdir: '.output',
    outExtension: { '.js': '.mjs' },
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: ['node20'],
    packages: 'external',
  })
}

async function bundled(
  entryPoints: Record<string, string>,
  hasRules: boolean,
  plugins: Plugin[],
): Promise<OutputFile[]> {
  const { outputFiles } = await build({
    entryPoints,
    plugins,
    outdir: '.output/delivery',
    bundle: true,
    format: 'iife',
    target: ['es2020'],

    charset: 'utf8',
    legalComments: 'none',
    write: false,
    define: { __WITH_RULES__: String(hasRules) },
  })
  return outputFiles
}

/** `plainRule.ts` answers as `pageRule.ts` does for rules that are plain. */
const plainRulesOnly: Plugin = {
  name: 'plain rules only',
  setup({ onResolve }) {
    onResolve({ filter: /targeting\/pageRule$/ }, ({ path, resolveDir }) => ({
      path: `${resolve(resolveDir, path.replace(/pageRule$/, 'plainRule'))}.ts`,
    }))
  },
}

if (process.argv[1] === fileURLToPath(import.meta.url)) await buildDelivery()

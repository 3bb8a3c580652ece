import { readFile } from 'node:fs/promises'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { useRuntimeConfig } from '#imports'
import type { SnippetFile } from '../services/sites/renderSnippet'

const files = new Map<string, Promise<string>>()

/** A script that the build made for customers' pages. */
export function deliveryFile(
  name:
    | SnippetFile
    | 'overlay.js'
    | 'preview.js'
    | 'panel.js'
    | 'recorder.js'
    | 'recording.js'
    | 'survey.js'
    | 'places.js'
    | 'layout.js'
    | 'device.js'
    | 'drift.js'
    | 'reveal.js',
): Promise<string> {
  let file = files.get(name)
  if (!file) files.set(name, (file = readFile(join(deliveryFolder(), name), 'utf8')))
  return file
}

/** A thread, as it was built: one that inspects pages, holds visits for reports, reads chunks of recordings, analyzes an expression, or goes over past traffic. */
export function threadFile(name: 'inspectPage' | 'evidence' | 'recordedChunk' | 'expression' | 'traffic'): string {
  return join(deliveryFolder(), `../threads/${name}.mjs`)
}

/** The built server stands in .output/server, what is delivered in .output/delivery. */
function deliveryFolder(): string {
  return useRuntimeConfig().deliveryDirectory || join(dirname(fileURLToPath(import.meta.url)), '../../../delivery')
}

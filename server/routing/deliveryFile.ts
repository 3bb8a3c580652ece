import { readFile } from 'node:fs/promises'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { useRuntimeConfig } from '#imports'

const files = new Map<string, Promise<string>>()

/** A script that the build made for customers' pages. */
export function deliveryFile(name: 'snippet.js' | 'overlay.js' | 'recorder.js'): Promise<string> {
  let file = files.get(name)
  if (!file) files.set(name, (file = readFile(join(deliveryFolder(), name), 'utf8')))
  return file
}

/** The thread that inspects pages, as it was built. */
export function inspectionThread(): string {
  return join(deliveryFolder(), '../worker/inspectPage.mjs')
}

/** The built server stands in .output/server, what is delivered in .output/delivery. */
function deliveryFolder(): string {
  return useRuntimeConfig().deliveryDirectory || join(dirname(fileURLToPath(import.meta.url)), '../../../delivery')
}

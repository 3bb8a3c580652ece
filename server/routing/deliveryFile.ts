import { readFile } from 'node:fs/promises'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { useRuntimeConfig } from '#imports'

const files = new Map<string, Promise<string>>()

/** A script that the build made for customers' pages. */
export function deliveryFile(name: 'snippet.js' | 'overlay.js'): Promise<string> {
  // The built server stands in .output/server, what is delivered in .output/delivery.
  const folder =
    useRuntimeConfig().deliveryDirectory || join(dirname(fileURLToPath(import.meta.url)), '../../../delivery')
  let file = files.get(name)
  if (!file) files.set(name, (file = readFile(join(folder, name), 'utf8')))
  return file
}

import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'

/** What a command says of itself. The texts are files, so that `vetch` can show them before anything is installed. */
export function helpOf(command: string): string {
  return readFileSync(fileURLToPath(new URL(`help/${command}.txt`, import.meta.url)), 'utf8')
}

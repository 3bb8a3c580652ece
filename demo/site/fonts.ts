import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'

const fontFile = (weight: number) =>
  readFileSync(createRequire(import.meta.url).resolve(`@fontsource/gelasio/files/gelasio-latin-${weight}-normal.woff2`))

/** Fonts of the demo sites by their paths: elements stand at the same places on any machine. */
export const FONTS: ReadonlyMap<string, Buffer> = new Map(
  [400, 700].map((weight) => [`/fonts/gelasio-${weight}.woff2`, fontFile(weight)]),
)

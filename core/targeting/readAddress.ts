/** Rules and conditions ask about the same few addresses again and again. */
const read = new Map<string, URL | null>()
const MOST_READ = 16

/** The parts of an absolute address; null for what is none. */
export function readAddress(address: string): URL | null {
  let url = read.get(address)
  if (url !== undefined) return url
  try {
    url = new URL(address)
  } catch {
    url = null
  }
  if (read.size >= MOST_READ) read.clear()
  read.set(address, url)
  return url
}

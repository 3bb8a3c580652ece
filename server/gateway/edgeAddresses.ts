/** What customers' pages ask for: script and site files, intake, recordings, places, and pictures that visitors see. */
const OF_PAGES = /^\/(s\/|pictures\/|(collect|record|recorder\.js|place)\/?$)/

/** Whether an address is answered by the edge, and by no other process. */
export function isOfEdge(address: string): boolean {
  const end = address.indexOf('?')
  return OF_PAGES.test(end < 0 ? address : address.slice(0, end))
}

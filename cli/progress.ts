/** One line of progress on a terminal; nothing where the output goes elsewhere. */
export function createProgress(what: string): { show: (share: number) => void; clear: () => void } {
  const isTerminal = process.stderr.isTTY === true
  let shown = -1
  return {
    show(share) {
      const percent = Math.min(100, Math.floor(share * 100))
      if (!isTerminal || percent === shown) return
      shown = percent
      process.stderr.write(`\r${what} … ${percent} %`)
    },
    clear() {
      if (shown >= 0) process.stderr.write('\r\u001b[K')
    },
  }
}

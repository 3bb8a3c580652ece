/** Adds a script to the page, without waiting for it. */
export function fetchScript(address: string): void {
  const script = document.createElement('script')
  script.src = address
  document.head.append(script)
}

/** Lets the person keep a file that was made in the browser. */
export function saveFile(name: string, content: Blob | string, type = 'text/csv;charset=utf-8'): void {
  const address = URL.createObjectURL(content instanceof Blob ? content : new Blob([content], { type }))
  const link = document.createElement('a')
  link.href = address
  link.download = name
  link.click()
  // The download may begin only after this.
  setTimeout(() => URL.revokeObjectURL(address), 10_000)
}

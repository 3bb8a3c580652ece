import { trustedPolicy } from '../trusted'

/** Adds a script to the page, without waiting for it. */
export function fetchScript(address: string): void {
  const script = document.createElement('script')
  script.src = trustedPolicy()?.createScriptURL(address) ?? address
  document.head.append(script)
}

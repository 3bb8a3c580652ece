import { trustedPolicy } from '../trusted'
import { nativeDocument } from '../native'

/** Adds a script to the page, without waiting for it. */
export function fetchScript(address: string): void {
  const script = nativeDocument.createElement('script')
  script.src = trustedPolicy({ createScriptURL: String })?.createScriptURL(address) ?? address
  nativeDocument.head.append(script)
}

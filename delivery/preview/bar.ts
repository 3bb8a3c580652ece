import type { ScriptFailure } from '../edits/scriptFailures'
import { native, nativeDocument } from '../native'

interface Told {
  experiment: string
  variants: readonly string[]
  /** Names of what visitors are served beside it. */
  served: readonly string[]
  /** Whether that is left out. */
  isWithout: boolean
  expires: number
  /** Name of the device, where it is pinned: what it shows is chosen in Vetch. */
  device: string | null
}

const LETTERS = 'ABCDEFGHIJ'

/** Says at the foot of the page what is seen, and leads out. Out of reach of the page's styles. */
export function createBar(
  { experiment, variants, served, isWithout, expires, device }: Told,
  does: { choose: (variant: number) => void; turn: () => void; leave: () => void },
) {
  const host = nativeDocument.createElement('vetch-preview')
  const root = native(host).attachShadow({ mode: 'open' })
  const style = nativeDocument.createElement('style')
  style.textContent = `
    div { position: fixed; inset: auto 0 0 0; z-index: 2147483647; display: flex; flex-wrap: wrap; gap: 6px 16px; align-items: center;
      padding: 8px 16px; background: #14211b; color: #f4f7f4; font: 14px/1.4 system-ui, sans-serif }
    p { margin: 0; flex: 1 1 16em }
    button, select { font: inherit; color: #14211b; background: #f4f7f4; border: 1px solid #f4f7f4; border-radius: 4px; padding: 4px 10px; cursor: pointer }
    button[aria-pressed='false'] { color: #f4f7f4; background: transparent }
    :focus-visible { outline: 2px solid #e08bbb; outline-offset: 2px }`
  const bar = nativeDocument.createElement('div')
  bar.setAttribute('role', 'region')
  bar.setAttribute('aria-label', 'Preview')
  const words = nativeDocument.createElement('p')
  const failure = nativeDocument.createElement('p')
  failure.setAttribute('role', 'alert')
  const select = nativeDocument.createElement('select')
  select.setAttribute('aria-label', 'Variant')
  variants.forEach((name, variant) => {
    const option = nativeDocument.createElement('option')
    option.value = String(variant)
    option.textContent = `${LETTERS[variant]} ${name}`
    select.append(option)
  })
  select.addEventListener('change', () => does.choose(Number(select.value)))
  const exit = nativeDocument.createElement('button')
  exit.textContent = device === null ? 'Leave the preview' : 'Unpin this device'
  exit.addEventListener('click', does.leave)
  const turn = nativeDocument.createElement('button')
  turn.textContent = 'With what is served'
  turn.title = served.join(', ')
  turn.setAttribute('aria-pressed', String(!isWithout))
  turn.addEventListener('click', does.turn)
  bar.append(words, ...(device === null ? [...(served.length > 0 ? [turn] : []), select] : []), exit)
  root.append(style, bar)
  const until = new Date(expires).toLocaleDateString(undefined, { day: 'numeric', month: 'long' })
  return {
    /** Says what went wrong in the script of the variant. */
    fail({ message, line }: ScriptFailure) {
      failure.textContent = `The script failed${line > 0 ? ` in line ${line}` : ''}: ${message}`
      bar.prepend(failure)
    },
    tell(shown: number, isPart: boolean) {
      select.value = String(shown)
      words.textContent = device === null ? previewed(isPart) : pinned(device, shown, isPart)
      if (!native(host).isConnected) native(nativeDocument.documentElement).append(host)
    },
  }

  function previewed(isPart: boolean): string {
    return isPart
      ? `Preview of “${experiment}”, until ${until}. Nothing is counted.`
      : `Preview of “${experiment}”: this page is not part of it. Nothing is counted.`
  }
  function pinned(name: string, shown: number, isPart: boolean): string {
    const variant = variants[shown]
    if (variant === undefined) return `Pinned as “${name}”: shows the page as it is. Nothing is counted.`
    return isPart
      ? `Pinned as “${name}”: “${variant}” of “${experiment}”. Nothing is counted.`
      : `Pinned as “${name}”: this page is not part of “${experiment}”. Nothing is counted.`
  }
}

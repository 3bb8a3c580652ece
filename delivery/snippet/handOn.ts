import type { SiteFile } from '../../shared/delivery/siteFile'
import type { Decision } from './decide'
import { safely } from './safely'
import { nativeDocument } from '../native'

/** Tells the page's own tools which variants are shown, each way that the site asks for. */
export function handOn({ handingOn, entries }: SiteFile, shown: readonly Decision[]): void {
  if (!handingOn) return
  const { list, call, event } = handingOn
  const page = window as unknown as Record<string, unknown>
  for (const { experiment, variant } of shown) {
    const entry = entries.find(({ kind, id }) => kind === 'experiment' && id === experiment)
    const [experimentName, ...variantNames] = (entry && 'names' in entry && entry.names) || []
    const told = { experiment, experimentName, variant, variantName: variantNames[variant] }
    safely(() => {
      if (list) ((page[list] ??= []) as unknown[]).push({ event: 'vetch_shown', ...told })
    })
    safely(() => {
      if (call) (page[call] as ((told: object) => void) | undefined)?.(told)
    })
    safely(() => {
      if (event) nativeDocument.dispatchEvent(new CustomEvent('vetch:shown', { detail: told }))
    })
  }
}

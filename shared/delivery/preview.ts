import type { DeliveredEdit } from '../../core/edits/content'
import type { PageRule } from '../../core/targeting/pageRule'

/** Where the build of the preview expects what it shows. */
export const PREVIEW_PLACE = '__VETCH_PREVIEW__'

/** Something that visitors of these pages are served anyway. */
export interface ServedThing {
  name: string
  pages: PageRule[]
  edits: DeliveredEdit[]
}

/** What a preview shows on a customer's page. */
export interface DeliveredPreview {
  experiment: string
  pages: PageRule[]
  /** The control first. */
  variants: { name: string; edits: DeliveredEdit[] }[]
  /** What most visitors are served beside it. */
  served: ServedThing[]
  /** The variant that is shown first. */
  first: number
  /** In ms since 1970. */
  expires: number
  /** Name of the device, where a device is pinned and not a link opened. */
  device: string | null
}

import type { Edit } from '../core/edits/edit'
import type { PageRule } from '../core/targeting/pageRule'

/** One running experiment, as a visitor's browser needs it. Names are short because every visitor loads them. */
export interface SiteFileExperiment {
  id: number
  salt: string
  share: number
  weights: number[]
  pages: PageRule[]
  /** Edits of each variant, the control's first (and empty). */
  edits: Edit[][]
}

/** What the snippet listens for, from the metrics of everything that runs. */
export interface SiteFileListeners {
  clicks: string[]
  submits: string[]
  amounts: { page: PageRule; selector: string }[]
}

/** All that visitors' browsers decide from. Nothing in it identifies a visitor. */
export interface SiteFile {
  version: number
  key: string
  asksConsent: boolean
  experiments: SiteFileExperiment[]
  listen: SiteFileListeners
}

import type { DeliveredEdit } from '../../core/edits/content'
import type { OrderReference } from '../../core/measurement/metric'
import type { Activation } from '../../core/targeting/activation'
import type { Group } from '../../core/targeting/condition'
import type { PageRule } from '../../core/targeting/pageRule'
import type { AdParameters } from '../../core/targeting/visitorFacts'
import type { GroupPlace, HoldoutShare, TestShare } from '../../core/targeting/whyNot'

/** Counts up when a snippet could no longer read what the server compiles. */
export const SITE_FILE_FORMAT = 2

/** What every entry has: where, for whom, and together with which others it is served. */
interface SiteFileEntry {
  id: number
  pages: PageRule[]
  /** Conditions on the visitor; null for everybody. */
  audience: Group | null
}

/** One running experiment, as a visitor's browser needs it. */
export interface SiteFileExperiment extends SiteFileEntry {
  kind: 'experiment'
  salt: string
  share: number
  /** Its place among those that exclude each other; null stands alone. */
  group: GroupPlace | null
  holdouts?: HoldoutShare[]
  /** Tests beside it whose visitors do not get it. */
  apart?: TestShare[]
  activation?: Activation
  /** Drawn by the person, not by the visitor. */
  unit?: 'person'
  /** Its changes are taken back once its conditions no longer hold. */
  leaves?: true
  /** What it and its variants are called, where pages are told what their visitors see. */
  names?: [experiment: string, ...variants: string[]]
  weights: number[]
  /**
   * Of a split that moves, which of its periods the weights are of. Whoever was drawn in an earlier one keeps their
   * variant.
   */
  period?: number
  /**
   * Of a personalization with several wordings, for whom each is, in their order: whoever is served gets the edits of the
   * first that fits.
   */
  wordings?: (Group | null)[]
  /** Edits of each variant, the control's first (and empty); of a personalization, then those of each wording. */
  edits: DeliveredEdit[][]
}

/** Keeps the share that tells its behavior independent of those of experiments. */
export const BEHAVIOR_SALT = 'behavior'
export const RECORDING_SALT = 'recording'

/** Where, and of which share of the visitors, more is told than views and clicks; see `behavior.ts`. */
export interface SiteFileBehavior extends SiteFileEntry {
  kind: 'behavior'
  salt: string
  share: number
}

/** Where, and of which share of the visitors, sessions are recorded. */
export interface SiteFileRecording extends SiteFileEntry {
  kind: 'recording'
  salt: string
  share: number
  masksText: boolean
}

/** Where, and of which share of the visitors, a survey may be shown. What it asks comes with the script that shows it. */
export interface SiteFileSurvey extends SiteFileEntry {
  kind: 'survey'
  salt: string
  share: number
}

/** Of which share of the visitors browsers tell whether the elements that edits change are there. */
export interface SiteFileDrift extends SiteFileEntry {
  kind: 'drift'
  salt: string
  share: number
}

/** Further kinds join here: personalization, flag. A snippet passes over kinds it does not know. */
export type AnySiteFileEntry =
  SiteFileExperiment | SiteFileBehavior | SiteFileRecording | SiteFileSurvey | SiteFileDrift

/** An amount that a metric asks for: browsers read it off the page. */
export interface ListenedAmount {
  page: PageRule
  selector: string
  reference: OrderReference | null
}

/** Where pages are told which variants their visitors see. */
export interface HandingOn {
  /** Name of a list on the window that entries are pushed onto; empty for none. */
  list: string
  /** Name of a function on the window that is called; empty for none. */
  call: string
  /** Whether the document gets an event, `vetch:shown`. */
  event: boolean
}

/** All that visitors' browsers decide from. Nothing in it identifies a visitor. */
export interface SiteFile {
  format: typeof SITE_FILE_FORMAT
  version: number
  key: string
  asksConsent: boolean
  /** Browsers that ask not to be tracked get nothing but the end of the wait. */
  respectsDoNotTrack?: true
  currency: string
  /** Query parameters that may be kept with an address. */
  parameters: string[]
  /** Of the site; there where a condition asks for the time. */
  timeZone?: string
  /** What pages say of their visitors that is told with views. */
  attributes?: string[]
  /** What pages say of their events that is told. */
  details?: string[]
  /** There where somebody counts as one on every device: then what stands for the person is told. */
  persons?: true
  /** There where a condition asks for what ads say. */
  ads?: AdParameters
  handingOn?: HandingOn
  /** Other places of the same pages, with keys of their own: by the hash of their origins, which are nobody's business. */
  environments?: Record<number, string>
  entries: AnySiteFileEntry[]
  amounts: ListenedAmount[]
}

/** As the snippet has it. */
export interface RenderedSiteFile extends SiteFile {
  /** What the script line holds back on the next pages, as it is kept; see `heldBack.ts`. */
  held: string
}

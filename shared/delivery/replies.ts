import { SITE_FILE_FORMAT, type SiteFile } from './siteFile'
import { array, mixed, type InferType } from '../yup'
import { amount, anything, exactly, listOf, text, whole, yesOrNo } from '../api/replyPieces'

export const healthReply = exactly({
  status: text(),
  database: text(),
  version: text(),
  /** Seconds that the oldest of what was received and is in no numbers yet has waited, on any site; null while nobody knows. */
  waitingToBeFolded: amount().nullable(),
  /** Every process that runs, by what it is for. */
  processes: listOf(
    exactly({
      role: text(),
      startedAt: text(),
      /** Seconds since it last said that it is there. */
      seen: amount(),
      /** How late its event loop was lately, in ms: of 100 turns the slowest but one. */
      delay: amount(),
      /** The longest that a batch took to be stored (edge), or a round of the fold (worker), in ms; null where there was none. */
      work: amount().nullable(),
    }),
  ),
})
export type Health = InferType<typeof healthReply>

export const collectReply = exactly({
  /** Views and events that are stored now, among them those that were before. */
  accepted: whole(),
  refused: listOf(exactly({ id: text().nullable(), why: text() })),
})
export type CollectReply = InferType<typeof collectReply>

export const recordReply = exactly({ kept: yesOrNo() })

/** Its entries are the snippet's own affair: it comes with the server that compiles them. */
export const siteFileReply = exactly({
  format: whole().oneOf([SITE_FILE_FORMAT]),
  version: whole(),
  key: text(),
  asksConsent: yesOrNo(),
  respectsDoNotTrack: yesOrNo().optional(),
  currency: text(),
  parameters: listOf(text()),
  timeZone: text().optional(),
  attributes: array(text()).optional(),
  details: array(text()).optional(),
  persons: yesOrNo().optional(),
  ads: mixed().optional(),
  handingOn: mixed().optional(),
  environments: mixed().optional(),
  entries: listOf(anything<SiteFile['entries'][number]>()),
  amounts: listOf(anything<SiteFile['amounts'][number]>()),
})

export const placeReply = exactly({
  country: text().nullable(),
  region: text().nullable(),
  city: text().nullable(),
})

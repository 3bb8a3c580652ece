import type { DryRunRow } from '../audiences/replies'
import type { DeliveredEdit } from '../../core/edits/content'
import type { DryRunThing } from '../../core/targeting/dryRun'
import type { ExperimentState } from '../experiments/experiment'
import type { SiteFile } from './siteFile'

/** Where the build of the panel expects what it shows. */
export const PANEL_PLACE = '__VETCH_PANEL__'

/** What visitors may get, as the panel shows it: what runs, and drafts as if they had been started now. */
export interface PanelThing extends DryRunThing {
  kind: DryRunRow['kind']
  name: string
  state: ExperimentState
  /** The control first; none of what has no variants. */
  variants: { name: string; edits: DeliveredEdit[] }[]
}

/** What the panel shows on a customer's page. */
export interface DeliveredPanel {
  things: PanelThing[]
  /** What visitors' browsers have at the moment. */
  siteFile: SiteFile
  /** Names of saved audiences by their ids. */
  audiences: Record<number, string>
  /** In ms since 1970. */
  expires: number
}

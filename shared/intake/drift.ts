import type { AssignmentPlan } from '../../core/assignment/assignment'
import type { ElementClues } from '../../core/edits/element'
import type { PageRule } from '../../core/targeting/pageRule'

/** Where the build of the script that looks for elements expects what it looks for. */
export const DRIFT_PLACE = '__VETCH_DRIFT__'
/** Keeps the share independent of those of experiments. */
export const DRIFT_SALT = 'drift'
/** Of 10,000 buckets: few tell enough, and the others fetch nothing. */
export const DRIFT_SHARE = 500

/** The elements of an experiment's edits, for browsers to look for. */
export interface WatchedExperiment extends AssignmentPlan {
  experiment: number
  pages: PageRule[]
  weights: number[]
  elements: {
    edit: string
    /** Position of its variant: whoever sees that one has the element changed. */
    variant: number
    selector: string
    clues: ElementClues | null
    /** The page that the edit is limited to; null for all of the experiment. */
    page: PageRule | null
  }[]
}

import { ACCOUNT } from './account'
import { COLLECTION } from './collection'
import { AUDIENCES } from './audiences'
import { DEVICES } from './devices'
import { DELIVERY } from './delivery'
import { EVIDENCE_OPERATIONS } from './evidence'
import { EXPERIMENTS } from './experiments'
import { FINDINGS } from './findings'
import { HYPOTHESES } from './hypotheses'
import { MEMBERS } from './members'
import { METRICS } from './metrics'
import { PAGE_PICTURES } from './pagePictures'
import { SITE_PICTURES } from './sitePictures'
import { WORDING } from './wording'
import { ROLLOUTS } from './rollouts'
import { RECORDINGS } from './recordings'
import { SURVEYS } from './surveys'
import { VISITORS } from './visitors'
import { SITES } from './sites'
import { TRAFFIC } from './traffic'

/** Every operation of the API: routes take access and input from here, clients their calls, and so does its description. */
export const OPERATIONS = {
  ...ACCOUNT,
  ...SITES,
  ...MEMBERS,
  ...COLLECTION,
  ...EVIDENCE_OPERATIONS,
  ...RECORDINGS,
  ...SURVEYS,
  ...FINDINGS,
  ...HYPOTHESES,
  ...METRICS,
  ...DEVICES,
  ...AUDIENCES,
  ...TRAFFIC,
  ...ROLLOUTS,
  ...PAGE_PICTURES,
  ...SITE_PICTURES,
  ...WORDING,
  ...VISITORS,
  ...EXPERIMENTS,
  ...DELIVERY,
}

export type Operations = typeof OPERATIONS
export type OperationId = keyof Operations

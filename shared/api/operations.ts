import { ACCOUNT } from '../accounts/operations'
import { COLLECTION } from '../collection/operations'
import { AUDIENCES } from '../audiences/operations'
import { DEVICES } from '../delivery/deviceOperations'
import { DELIVERY } from '../delivery/operations'
import { EVIDENCE_OPERATIONS } from '../evidence/operations'
import { EXPERIMENTS } from '../experiments/operations'
import { FINDINGS } from '../findings/operations'
import { HISTORY } from '../history/operations'
import { HYPOTHESES } from '../hypotheses/operations'
import { MEMBERS } from '../accounts/memberOperations'
import { NOTIFICATIONS } from '../notifications/operations'
import { METRICS } from '../metrics/operations'
import { PAGE_PICTURES } from '../pictures/pageOperations'
import { SITE_PICTURES } from '../pictures/siteOperations'
import { WORDING } from '../wording/operations'
import { ROLLOUTS } from '../rollouts/operations'
import { RECORDINGS } from '../recordings/operations'
import { SURVEYS } from '../surveys/operations'
import { VISITORS } from '../visitors/operations'
import { SITES } from '../sites/operations'
import { TRAFFIC } from '../traffic/operations'
import { WATCH } from '../watch/operations'
import { WEBHOOKS } from '../webhooks/operations'

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
  ...WATCH,
  ...HISTORY,
  ...NOTIFICATIONS,
  ...WEBHOOKS,
  ...EXPERIMENTS,
  ...DELIVERY,
}

export type Operations = typeof OPERATIONS
export type OperationId = keyof Operations

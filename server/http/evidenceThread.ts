import { useRuntimeConfig } from '#imports'
import { openEvidenceThread, type EvidenceThread } from '../services/evidence/askEvidence'
import { threadFile } from './deliveryFile'

let opened: EvidenceThread | undefined

/** The thread that answers reports in this process; started at its first question. */
export function evidence(): EvidenceThread {
  opened ??= openEvidenceThread(threadFile('evidence'), useRuntimeConfig().databaseUrl)
  return opened
}

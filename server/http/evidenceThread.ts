import { useRuntimeConfig } from '#imports'
import { openReportsClient } from '../reports/reportsClient'
import { reportsKey } from '../reports/reportsKey'
import { openEvidenceThread, type EvidenceThread } from '../services/evidence/askEvidence'
import { threadFile } from './deliveryFile'

let opened: EvidenceThread | undefined

/** What answers reports: a process of its own, or a thread of this one where no other is named. */
export function evidence(): EvidenceThread {
  const { databaseUrl, reportsUrl, sessionPassword } = useRuntimeConfig()
  opened ??= reportsUrl
    ? openReportsClient(reportsUrl, reportsKey(sessionPassword))
    : openEvidenceThread(threadFile('evidence'), databaseUrl)
  return opened
}

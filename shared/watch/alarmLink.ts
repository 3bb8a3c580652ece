import type { AlarmView } from './replies'

/** Where an alarm stands among those of what it is of. */
export function alarmLink(siteId: number, { experimentId, rolloutId }: Pick<AlarmView, 'experimentId' | 'rolloutId'>) {
  if (experimentId !== null) return `/sites/${siteId}/experiments/${experimentId}#alarms`
  return rolloutId === null ? `/sites/${siteId}/alarms` : `/sites/${siteId}/rollouts/${rolloutId}#alarms`
}

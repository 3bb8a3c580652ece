import type { AlarmView } from './replies'

type AlarmOf = Pick<AlarmView, 'experimentId' | 'rolloutId'>

/** Where an alarm stands among those of what it is of, below its site. */
export function alarmPath({ experimentId, rolloutId }: AlarmOf): string {
  if (experimentId !== null) return `/experiments/${experimentId}#alarms`
  return rolloutId === null ? '/alarms' : `/rollouts/${rolloutId}#alarms`
}

export function alarmLink(siteId: number, alarm: AlarmOf): string {
  return `/sites/${siteId}${alarmPath(alarm)}`
}

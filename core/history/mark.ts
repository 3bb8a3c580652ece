/** What happened on a day, and may have moved a metric. */
export const MARK_KINDS = ['start', 'end', 'share', 'rollout', 'definition', 'alarm', 'finding', 'note'] as const
export type MarkKind = (typeof MARK_KINDS)[number]

/** What stands for each in a chart. */
export const MARK_SIGNS: Record<MarkKind, string> = {
  start: '▸',
  end: '■',
  share: '↗',
  rollout: '◆',
  definition: '≠',
  alarm: '✕',
  finding: '◇',
  note: '✎',
}

export const MARK_WORDS: Record<MarkKind, string> = {
  start: 'experiment started',
  end: 'experiment ended',
  share: 'traffic share raised',
  rollout: 'rollout changed',
  definition: 'metric definition changed',
  alarm: 'alarm',
  finding: 'finding',
  note: 'note',
}

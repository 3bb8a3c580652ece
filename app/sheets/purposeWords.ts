import type { Purpose } from '~~/core/sheet/content'

/** What a sheet says of itself, by what it is for. */
export const PURPOSE_WORDS: Record<
  Purpose,
  {
    thing: string
    what: string
    startQuestion: string
    started: string
    paused: string
    resumed: string
    ended: string
    end: string
    freezes: string
  }
> = {
  test: {
    thing: 'experiment',
    what: 'The page as it is, and what is tried instead.',
    startQuestion: 'Start this experiment?',
    started: 'Started. Visitors get it within 10 seconds.',
    paused: 'Paused. Everybody sees the original.',
    resumed: 'Running again.',
    ended: 'Ended. Everybody sees the original.',
    end: 'End …',
    freezes:
      'Variants, page, metrics and plan freeze, so that the result can be trusted. The traffic share can still be raised.',
  },
  serve: {
    thing: 'personalization',
    what: 'The page as it is for those who are held back, and what the others get: the first wording that fits.',
    startQuestion: 'Start this personalization?',
    started: 'Started. Visitors get it within 10 seconds.',
    paused: 'Paused. Everybody sees the original.',
    resumed: 'Served again.',
    ended: 'Stopped. Everybody sees the original.',
    end: 'Stop …',
    freezes:
      'Page, change and held-back share freeze, so that its effect can be read. The traffic share can still be raised.',
  },
}

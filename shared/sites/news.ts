/** Something of a site that has changed, for those who look at it just now. */
export type News =
  | {
      kind: 'sheet'
      experiment: number
      /** Of the sheet, so that whoever has it already need not read it again. */
      version: number
    }
  /** Somebody has a variant open to change it. Told again while they do. */
  | { kind: 'presence'; experiment: number; variant: string; tab: string; person: string }
  /** Alarms were opened, closed, or taken on. */
  | { kind: 'alarms' }
  /** Somebody is told of something new. */
  | { kind: 'notifications' }
  /** Somebody has seen what they are told. */
  | { kind: 'seen' }

/** How often an open variant is told, in ms. */
export const PRESENCE_EVERY = 15_000

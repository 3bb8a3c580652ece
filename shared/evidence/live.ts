/** Something that has just arrived, as the live tail tells it. */
export type Arrived =
  | {
      what: 'view' | 'event'
      id: string
      /** ISO 8601, by the server's clock at the arrival */
      at: string
      kind: string
      page: string
      /** Name of an event, label or element of a click. */
      detail: string | null
      visitor: string
      browser: string
      /** Whom reports and experiments leave out. */
      leftOut: 'robot' | 'team' | null
    }
  | {
      what: 'refused'
      id: string
      at: string
      kind: null
      page: null
      detail: string
      visitor: null
      browser: null
      leftOut: null
    }

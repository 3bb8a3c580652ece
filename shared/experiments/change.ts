export interface ChangeView {
  id: number
  at: string
  person: string | null
  action: string
  /** What a change of the sheet did, with old and new. */
  words: string | null
  /** Whether the sheet can be made again what it was after it. */
  mayRestore: boolean
  before: Record<string, unknown> | null
  after: Record<string, unknown> | null
}

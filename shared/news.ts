/** Something of a site that has changed, for those who look at it just now. */
export interface News {
  kind: 'sheet'
  experiment: number
  /** Of the sheet, so that whoever has it already need not read it again. */
  version: number
}

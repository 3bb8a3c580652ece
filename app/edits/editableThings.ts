import type { SheetContent, SheetLevel } from '~~/core/sheet/content'

/** What edits can be pointed into: the variants beside the control, or the levels of a multivariate test by full names. */
export function editableThings(sheet: Pick<SheetContent, 'factors' | 'variants'> | null): SheetLevel[] {
  if (!sheet) return []
  if (sheet.factors.length === 0) return sheet.variants.slice(1)
  return sheet.factors.flatMap((factor) =>
    factor.levels.slice(1).map((level) => ({ ...level, name: `${factor.name}: ${level.name}` })),
  )
}

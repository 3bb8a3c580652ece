import { isOfElement, type EditContent, type EditMarks } from '~~/core/edits/content'
import { areSameWidths, describeWidths, type Widths } from '~~/core/edits/widths'

/** Widths of windows that edits are often made for. */
export const WINDOW_WIDTHS: readonly { label: string; widths: Widths }[] = [
  { label: 'Phones', widths: { from: null, below: 640 } },
  { label: 'Tablets', widths: { from: 640, below: 1024 } },
  { label: 'Desktops', widths: { from: 1024, below: null } },
]

/** What is done to elements, for some widths alone. The code of a page has media queries of its own. */
export function limitedToWidths(contents: readonly EditContent[], widths: Widths | null): (EditContent & EditMarks)[] {
  return contents.map((content) => (isOfElement(content) ? { ...content, widths } : content))
}

/** @example widthsInWords({ from: null, below: 640 }) // 'Phones, below 640 px' */
export function widthsInWords(widths: Widths): string {
  const named = WINDOW_WIDTHS.find((each) => areSameWidths(each.widths, widths))
  return named ? `${named.label}, ${describeWidths(widths)}` : `Windows ${describeWidths(widths)}`
}

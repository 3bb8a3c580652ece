/** Widths at which pages are looked at, in CSS pixels. */
export const PAGE_WIDTHS = [
  { value: '390', label: 'Phone, 390' },
  { value: '820', label: 'Tablet, 820' },
  { value: '1280', label: 'Desktop, 1280' },
] as const

export type PageWidth = (typeof PAGE_WIDTHS)[number]['value']

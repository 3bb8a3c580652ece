/** Shapes of the variants' marks in a square of 16, the control first: ten that differ by their outline alone. */
export const VARIANT_SHAPES = [
  'M8 2A6 6 0 1 0 8 14A6 6 0 1 0 8 2ZM8 4.5A3.5 3.5 0 1 1 8 11.5A3.5 3.5 0 1 1 8 4.5Z',
  'M8 1 15 15H1Z',
  'M1.5 1.5h13v13h-13Z',
  'M8 .5 15.5 8 8 15.5.5 8Z',
  'M5 1h6l4 7-4 7H5L1 8Z',
  'M1 1h14L8 15Z',
  'M5.5 1h5v4.5H15v5h-4.5V15h-5v-4.5H1v-5h4.5Z',
  'M1 1h14L10.5 8 15 15H1L5.5 8Z',
  'M8 1 15.5 6.5 12.6 15H3.4L.5 6.5Z',
  'M1 11.5A7 7 0 0 1 15 11.5Z',
] as const

const HUES = 5

/** The token of a variant's color. */
export function variantToken(position: number): `--${string}` {
  return position === 0 ? '--slate' : `--color-variant-${((position - 1) % HUES) + 1}`
}

/** The outline of a variant's mark. */
export function variantShape(position: number): string {
  return VARIANT_SHAPES[position % VARIANT_SHAPES.length]!
}

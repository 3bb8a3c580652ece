import type { Color } from './measuredPage'

/**
 * Contrast of a text with what it is drawn on, from 1 (the same) to 21 (black on white).
 *
 * @param color - may be translucent: it is laid over the background first
 * @param background - taken as opaque
 * @see W3C (2023), Web Content Accessibility Guidelines 2.2, relative luminance and contrast ratio
 * @example contrast([0, 0, 0, 1], [255, 255, 255, 1]) // 21
 */
export function contrast(color: Color, background: Color): number {
  const [one, other] = [luminance(laidOver(color, background)), luminance(background)]
  return (Math.max(one, other) + 0.05) / (Math.min(one, other) + 0.05)
}

/** The contrast that a text needs (WCAG 2.2, 1.4.3, level AA): large letters need less. */
export function neededContrast({ size, isBold }: { size: number; isBold: boolean }): number {
  // 18 and 14 points.
  return size >= 24 || (isBold && size >= 18.66) ? 3 : 4.5
}

/** A color as it looks over another. */
export function laidOver([red, green, blue, opacity]: Color, [r, g, b]: Color): Color {
  const mixed = (over: number, under: number) => over * opacity + under * (1 - opacity)
  return [mixed(red, r), mixed(green, g), mixed(blue, b), 1]
}

function luminance([red, green, blue]: Color): number {
  const [r, g, b] = [red, green, blue].map((part) => {
    const share = part / 255
    return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4
  }) as [number, number, number]
  return 0.2126 * r + 0.7152 * g + 0.0722 * b
}

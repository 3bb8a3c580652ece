/** A control of the look: which property of CSS it sets, and how. */
export type LookControl =
  | { property: string; label: string; type: 'length' | 'color' | 'number' }
  | { property: string; label: string; type: 'choice'; choices: readonly string[] }

export interface LookGroup {
  title: string
  controls: readonly LookControl[]
}

const sides = (kind: 'margin' | 'padding', title: string): LookControl[] =>
  ['top', 'right', 'bottom', 'left'].map((side) => ({
    property: `${kind}-${side}`,
    label: `${title} ${side}`,
    type: 'length' as const,
  }))

export const LOOK_GROUPS: readonly LookGroup[] = [
  {
    title: 'Type',
    controls: [
      { property: 'font-size', label: 'Size', type: 'length' },
      {
        property: 'font-weight',
        label: 'Weight',
        type: 'choice' as const,
        choices: ['300', '400', '500', '600', '700', '800'],
      },
      { property: 'font-style', label: 'Slant', type: 'choice', choices: ['normal', 'italic'] },
      { property: 'text-align', label: 'Alignment', type: 'choice', choices: ['left', 'center', 'right', 'justify'] },
      { property: 'line-height', label: 'Line height', type: 'length' },
      { property: 'letter-spacing', label: 'Letter spacing', type: 'length' },
      {
        property: 'text-transform',
        label: 'Capitals',
        type: 'choice' as const,
        choices: ['none', 'uppercase', 'lowercase', 'capitalize'],
      },
      {
        property: 'text-decoration-line',
        label: 'Line',
        type: 'choice' as const,
        choices: ['none', 'underline', 'line-through'],
      },
    ],
  },
  {
    title: 'Color',
    controls: [
      { property: 'color', label: 'Text', type: 'color' },
      { property: 'background-color', label: 'Background', type: 'color' },
    ],
  },
  { title: 'Margin', controls: sides('margin', 'Margin') },
  { title: 'Padding', controls: sides('padding', 'Padding') },
  {
    title: 'Size',
    controls: [
      { property: 'width', label: 'Width', type: 'length' },
      { property: 'height', label: 'Height', type: 'length' },
      { property: 'max-width', label: 'Largest width', type: 'length' },
      {
        property: 'object-fit',
        label: 'Picture fit',
        type: 'choice' as const,
        choices: ['fill', 'contain', 'cover', 'none', 'scale-down'],
      },
    ],
  },
  {
    title: 'Border',
    controls: [
      { property: 'border-width', label: 'Width', type: 'length' },
      {
        property: 'border-style',
        label: 'Style',
        type: 'choice' as const,
        choices: ['none', 'solid', 'dashed', 'dotted', 'double'],
      },
      { property: 'border-color', label: 'Color', type: 'color' },
      { property: 'border-radius', label: 'Rounding', type: 'length' },
    ],
  },
  {
    title: 'Opacity and visibility',
    controls: [
      { property: 'opacity', label: 'Opacity, 0 to 1', type: 'number' },
      { property: 'visibility', label: 'Visibility', type: 'choice', choices: ['visible', 'hidden'] },
    ],
  },
]

/** Properties that the browser computes side by side, by the one that stands for all of them. */
export const COMPUTED_AS: Record<string, string> = {
  'border-width': 'border-top-width',
  'border-style': 'border-top-style',
  'border-color': 'border-top-color',
}

/** A length as it is typed, with px where only a number stands. */
export function typedLength(typed: string): string {
  return /^-?\d+(\.\d+)?$/.test(typed.trim()) ? `${typed.trim()}px` : typed.trim()
}

/** A computed color as a color field takes it; null for one that it cannot show. */
export function hexColor(color: string): string | null {
  if (/^#[\da-f]{6}$/i.test(color)) return color
  const [, red, green, blue, opacity] = /^rgba?\((\d+), (\d+), (\d+)(?:, ([\d.]+))?\)$/.exec(color) ?? []
  if (red === undefined || (opacity !== undefined && Number(opacity) < 1)) return null
  return `#${[red, green, blue].map((each) => Number(each).toString(16).padStart(2, '0')).join('')}`
}

import { variantToken } from './variantShapes'

/** The theme's colors and type, as charts draw with them. */
export interface ChartTokens {
  ground: string
  raised: string
  ink: string
  inkSoft: string
  line: string
  lineStrong: string
  accent: string
  pineSoft: string
  rustSoft: string
  neutralSoft: string
  /** By position of the variant. */
  variant: (position: number) => string
  font: string
}

/** What the Tailwind theme says now: other colors by dark and light. */
export function readTokens(read: (token: string) => string): ChartTokens {
  return {
    ground: read('--ground'),
    raised: read('--raised'),
    ink: read('--ink'),
    inkSoft: read('--ink-soft'),
    line: read('--line'),
    lineStrong: read('--line-strong'),
    accent: read('--accent'),
    pineSoft: read('--pine-soft'),
    rustSoft: read('--rust-soft'),
    neutralSoft: read('--neutral-soft'),
    variant: (position) => read(variantToken(position)),
    font: read('--font-sans'),
  }
}

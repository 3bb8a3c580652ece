import { PHONE_WIDTH } from '../../core/edits/fixedWidth'
import type { DeliveredEdit } from '../../core/edits/content'
import type { MeasuredPage } from '../../core/layout/measuredPage'
import { STANDINGS, type StandingOnPage } from '../../core/edits/standing'
import { array, boolean, number, object, string, tuple } from '../yup'

/** Under this symbol the script that shows and measures variants leaves what it can do. */
export const LAYOUT_MARK = 'vetch layout'

export interface PageLayout {
  apply: (edits: DeliveredEdit[]) => void
  measure: () => MeasuredPage
  /** How edits stand to the page as it is, and whether all together make no difference to it. */
  stand: (edits: DeliveredEdit[]) => PageStanding
}

/** Devices that pictures are taken as, and what the page is told of each. */
export const DEVICES = [
  {
    name: 'Phone',
    width: PHONE_WIDTH,
    height: 844,
    isTouch: true,
    userAgent:
      'Mozilla/5.0 (Linux; Android 14; Phone) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Mobile Safari/537.36',
  },
  {
    name: 'Tablet',
    width: 820,
    height: 1180,
    isTouch: true,
    userAgent:
      'Mozilla/5.0 (Linux; Android 14; Tablet) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36',
  },
  {
    name: 'Desktop',
    width: 1280,
    height: 800,
    isTouch: false,
    userAgent: 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36',
  },
] as const
export type Device = (typeof DEVICES)[number]

/** What a browser says that its person reads. */
export const languageSchema = () =>
  string()
    .trim()
    .matches(/^[a-z]{2,3}(-[A-Z]{2})?$/, 'Type a language such as en or de-AT.')
    .default('en')

/** How pictures are asked for. */
export const picturesRequestSchema = object({
  language: languageSchema(),
  /** Also those that show what the sheet says. */
  isAnew: boolean().default(false),
})

/** How edits stand to a page, in their order. */
export interface PageStanding {
  standings: StandingOnPage[]
  isSame: boolean
}

/** What a page says of edits is checked like everything that comes from outside. */
export const pageStandingSchema = object({
  standings: array(
    string()
      .strict()
      .oneOf([...STANDINGS, 'elsewhere'] as const)
      .required(),
  )
    .max(500)
    .required(),
  isSame: boolean().strict().required(),
})

const pixels = () => number().strict().min(-100_000).max(1_000_000).required()
const part = () => number().strict().min(0).max(255).required()
const colorSchema = tuple([part(), part(), part(), number().strict().min(0).max(1).required()])
const boxSchema = object({ x: pixels(), y: pixels(), width: pixels(), height: pixels() })
const words = (longest: number) => string().strict().max(longest).defined()

/** What a page says of its layout is checked like everything that comes from outside. */
export const measuredPageSchema = object({
  width: pixels(),
  contentWidth: pixels(),
  texts: array(
    object({
      path: words(2000),
      text: words(80),
      lines: array(boxSchema).min(1).max(40).required(),
      isCut: boolean().strict().required(),
      color: colorSchema.required(),
      background: colorSchema.nullable().defined(),
      size: pixels(),
      isBold: boolean().strict().required(),
    }),
  )
    .max(1500)
    .required(),
  brokenImages: array(object({ path: words(2000), box: boxSchema, address: words(5000) }))
    .max(1000)
    .required(),
  wide: array(object({ path: words(2000), box: boxSchema, text: words(80) }))
    .max(20)
    .required(),
})

import { boolean, object, string } from 'yup'

const address = string()
  .trim()
  .required('Type the address of the site, such as https://www.example.test.')
  .test(
    'address',
    'Type the address with http:// or https://, such as https://www.example.test.',
    (value) => URL.canParse(value) && /^https?:$/.test(new URL(value).protocol),
  )
const name = string().trim().max(80, 'The name is longer than 80 characters.')
const timeZone = string().test(
  'time-zone',
  'Choose a time zone, such as Europe/Dublin.',
  (value) => value === undefined || isTimeZone(value),
)

export const newSiteSchema = object({ address, name: name.required('Give the site a name.'), timeZone })
export const sitePatchSchema = object({ name: name.min(1, 'Give the site a name.'), timeZone, asksConsent: boolean() })

function isTimeZone(value: string): boolean {
  try {
    return new Intl.DateTimeFormat('en', { timeZone: value }) !== null
  } catch {
    return false
  }
}

export interface SiteView {
  id: number
  name: string
  address: string
  key: string
  timeZone: string
  currency: string
  asksConsent: boolean
  firstReportAt: string | null
  /** The line that goes into the head of every page. */
  scriptLine: string
  /** Source expression for a content security policy that restricts styles. */
  styleHash: string
}

export interface InstallationFinding {
  check: 'reachable' | 'present' | 'key' | 'head' | 'first'
  passed: boolean
  text: string
}

export interface InstallationReport {
  address: string
  findings: InstallationFinding[]
  firstReportAt: string | null
}

export const installationCheckSchema = object({
  path: string()
    .trim()
    .matches(/^\/(?!\/)/, 'Begin the address with a slash, such as /book.')
    .max(1000)
    .default('/'),
})

export interface TodayItem {
  kind: 'allocation' | 'verdict' | 'silent' | 'install' | 'draft'
  title: string
  text: string
  link: string
}

import { array, boolean, number, object, string, type Schema } from '../yup'
import { LARGEST_AMOUNT } from '../../core/measurement/money'
import type { AdParameters } from '../../core/targeting/visitorFacts'
import { isOwnPath } from '../delivery/ownPath'
import type { HandingOn } from '../delivery/siteFile'

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

const currency = string()
  .trim()
  .uppercase()
  .test(
    'currency',
    'Choose a currency by its three letters, such as EUR.',
    (value) => value === undefined || isCurrency(value),
  )

const rateSchema = object({
  currency: currency.required('Name the currency, such as GBP.'),
  from: string()
    .matches(/^\d{4}-\d{2}-\d{2}$/, 'Type the day from which the rate holds, such as 2026-03-01.')
    .test('day', 'There is no such day.', (value) => !Number.isNaN(Date.parse(value ?? '')))
    .required('Type the day from which the rate holds.'),
  rate: number()
    .typeError('Type what one unit is worth, such as 1.17.')
    .moreThan(0, 'A rate is above 0.')
    .max(1e6, 'A rate is at most 1,000,000.')
    .required('Type what one unit is worth, such as 1.17.'),
})

const parameterName = string()
  .trim()
  .matches(/^[\w.~-]{0,60}$/, 'Name a query parameter as it stands in the address, such as ad_group.')
  .default('')
const pageName = (example: string) =>
  string()
    .trim()
    .matches(/^([A-Za-z_$][\w$]{0,59})?$/, `Type a name of the page’s window, such as ${example}.`)
    .default('')

/** With its port, if it has one. */
const HOST = /^(?!-)[a-z0-9.-]{1,253}(:\d{1,5})?$/

export const sitePatchSchema = object({
  name: name.min(1, 'Give the site a name.'),
  timeZone,
  hosts: array(
    string()
      .trim()
      .lowercase()
      .matches(HOST, 'Type a host such as book.example.test, with its port if it has one.')
      .required('Type a host.'),
  ).max(50, 'At most 50 hosts.'),
  asksConsent: boolean(),
  respectsDoNotTrack: boolean(),
  allowsScripts: boolean(),
  currency,
  rates: array(rateSchema.required()).max(500, 'At most 500 rates.'),
  largestAmount: number()
    .typeError('Type the largest amount as a number.')
    .moreThan(0, 'The largest amount is above 0.')
    .max(LARGEST_AMOUNT, 'The largest amount is at most 100,000,000.'),
  parameters: array(
    string()
      .trim()
      .matches(/^[\w.~-]{1,60}$/, 'Name a query parameter as it stands in the address, such as ref.')
      .required('Name the parameter.'),
  ).max(50, 'At most 50 parameters.'),
  attributes: array(
    string()
      .trim()
      .matches(/^[\w.-]{1,60}$/, 'Name an attribute as the page gives it, such as plan.')
      .required('Name the attribute.'),
  ).max(30, 'At most 30 attributes.'),
  eventDetails: array(
    string()
      .trim()
      .matches(/^[\w.-]{1,60}$/, 'Name a detail as the page gives it, such as vehicle.')
      .required('Name the detail.'),
  ).max(30, 'At most 30 details.'),
  adParameters: object({
    campaign: parameterName,
    group: parameterName,
    keyword: parameterName,
  }).default(undefined) as unknown as Schema<AdParameters | undefined>,
  handingOn: object({
    list: pageName('pageData'),
    call: pageName('onVariant'),
    event: boolean().default(false),
  })
    .nullable()
    .default(undefined) as unknown as Schema<HandingOn | null | undefined>,
  ownNetworks: array(
    string()
      .trim()
      .test('network', 'Type a network such as 203.0.113.0/24, or an address.', (value) => isNetwork(value ?? ''))
      .required('Type a network.'),
  ).max(100, 'At most 100 networks.'),
  privateHosts: array(
    string()
      .trim()
      .lowercase()
      .test(
        'private-host',
        'Type a network such as 10.20.0.0/16, or a host such as staging.example.test.',
        (value) => isNetwork(value ?? '') || HOST.test(value ?? ''),
      )
      .required('Type a network or a host.'),
  ).max(50, 'At most 50 networks and hosts.'),
  servedDays: number()
    .typeError('Type the days as a whole number.')
    .integer('Type the days as a whole number.')
    .min(7, 'What is served is brought up after 7 days or more.')
    .max(730, 'What is served is brought up after 730 days or less.'),
  retentionDays: number()
    .typeError('Type the days as a whole number.')
    .integer('Type the days as a whole number.')
    .min(60, 'Raw events are kept for at least 60 days: what is measured in an experiment needs them.')
    .max(3650, 'At most 3,650 days.'),
  longestWait: number()
    .typeError('Type the longest wait in milliseconds.')
    .integer('Type the longest wait in whole milliseconds.')
    .min(200, 'The longest wait is at least 200 ms: a shorter one shows the original to almost everybody.')
    .max(5000, 'The longest wait is at most 5,000 ms.'),
  ownPath: string()
    .trim()
    .nullable()
    .transform((value: unknown) => (value === '' ? null : value))
    .test(
      'own-path',
      'Type a path of the site, such as /vetch.',
      (value) => value === null || value === undefined || (isOwnPath(value) && /^\/[\w/-]+[^/]$/.test(value)),
    ),
})

/** Names such as Europe/Dublin. Offsets are left out: programs read their signs differently. */
export function isTimeZone(value: string): boolean {
  try {
    return /^(UTC|[A-Z]\w+(\/[\w+-]+)+)$/.test(value) && new Intl.DateTimeFormat('en', { timeZone: value }) !== null
  } catch {
    return false
  }
}

function isCurrency(value: string): boolean {
  return Intl.supportedValuesOf('currency').includes(value)
}

/** The server reads it once more, with a library; this only says early what a person has mistyped. */
function isNetwork(value: string): boolean {
  return /^(\d{1,3}(\.\d{1,3}){3}(\/([12]?\d|3[0-2]))?|[0-9a-f:]*:[0-9a-f:]*(\/(\d{1,2}|1[01]\d|12[0-8]))?)$/i.test(
    value,
  )
}

export const installationCheckSchema = object({
  path: string()
    .trim()
    .test('own-path', 'Begin the address with a slash, such as /book.', isOwnPath)
    .max(1000)
    .default('/'),
})

/** What a browser tells of itself by its user agent, in the words that visits are kept with. */
export interface BrowserFacts {
  device: 'phone' | 'tablet' | 'desktop' | 'other'
  system: string
  browser: string
  /** The first number of the version. */
  browserVersion?: string
}

/** In the order of asking: many browsers name others after themselves. */
const BROWSERS: readonly [RegExp, string][] = [
  [/\b(?:Edg|EdgA|EdgiOS|Edge)\/(\d+)/, 'Microsoft Edge'],
  [/\b(?:OPR|Opera)\/(\d+)/, 'Opera'],
  [/\bSamsungBrowser\/(\d+)/, 'Samsung Internet for Android'],
  [/\b(?:Firefox|FxiOS)\/(\d+)/, 'Firefox'],
  [/\b(?:Chrome|CriOS)\/(\d+)/, 'Chrome'],
  [/\bVersion\/(\d+)[\d.]* (?:Mobile\/\w+ )?Safari\//, 'Safari'],
]
const SYSTEMS: readonly [RegExp, string][] = [
  [/\b(?:iPhone|iPad|iPod)\b/, 'iOS'],
  [/\bAndroid\b/, 'Android'],
  [/\bCrOS\b/, 'Chrome OS'],
  [/\bWindows\b/, 'Windows'],
  [/\bMac OS X\b/, 'macOS'],
  [/\bLinux\b/, 'Linux'],
]

/**
 * Reads a user agent as intake does for what it keeps, for the browsers that people use; others are `unknown`.
 *
 * @example browserFacts('Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0')
 * // { device: 'desktop', system: 'Linux', browser: 'Firefox', browserVersion: '140' }
 */
export function browserFacts(userAgent: string): BrowserFacts {
  const [pattern, browser = 'unknown'] = BROWSERS.find(([each]) => each.test(userAgent)) ?? []
  const version = pattern?.exec(userAgent)?.[1]
  const system = SYSTEMS.find(([each]) => each.test(userAgent))?.[1] ?? 'unknown'
  return { device: deviceOf(userAgent), system, browser, ...(version ? { browserVersion: version } : {}) }
}

function deviceOf(userAgent: string): BrowserFacts['device'] {
  if (/\bCrOS\b/.test(userAgent)) return 'other'
  if (/\biPad\b/.test(userAgent) || (/\bAndroid\b/.test(userAgent) && !/\bMobile\b/.test(userAgent))) return 'tablet'
  return /\b(?:iPhone|iPod|Mobile)\b/.test(userAgent) ? 'phone' : 'desktop'
}

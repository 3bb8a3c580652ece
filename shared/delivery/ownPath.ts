export const OWN_PATH = 'Begin the address with a slash, such as /crossings/torrin.'

const ANY_ORIGIN = 'https://own.invalid'

/**
 * Whether a path stays on the site that it is opened on. What looks like a path may name another host (`//a.test`,
 * `/\a.test`), so the question is put to the parser that browsers use.
 */
export function isOwnPath(path: string | undefined): boolean {
  if (!path?.startsWith('/')) return false
  return URL.canParse(path, ANY_ORIGIN) && new URL(path, ANY_ORIGIN).origin === ANY_ORIGIN
}

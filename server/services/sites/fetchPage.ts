import { HttpProblem } from '../HttpProblem'
import { fetchGuarded, type Wanted } from './fetchGuarded'
import type { Reach } from './reach'

const LARGEST_PAGE = 2 * 1024 * 1024
const WANTED = { userAgent: 'Vetch installation check', accept: 'text/html', most: LARGEST_PAGE }

/**
 * Fetches a page on behalf of a person with the content security policies of its headers, guarded as `fetchGuarded` says.
 *
 * @param address - absolute address of the page
 * @param reach - what may lie on private addresses
 * @param as - whom the request says that it is of; the check of installations by default
 * @throws HttpProblem with a sentence for the person
 */
export async function fetchPage(
  address: string,
  reach: Reach,
  as: Partial<Pick<Wanted, 'userAgent' | 'language'>> = {},
): Promise<{ address: string; html: string; policies: string[] }> {
  const { address: found, status, headers, body } = await fetchGuarded(address, reach, { ...WANTED, ...as })
  if (status < 200 || status > 299)
    throw new HttpProblem(422, `${found} answered with status ${status}. Check the address.`)
  const policies = headers.flatMap(([name, value]) => (name === 'content-security-policy' ? [value] : []))
  return { address: found, html: body.toString('utf8'), policies }
}

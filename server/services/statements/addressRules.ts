import { isPlainRule, matchesPageRule, type PageRule } from '../../../core/targeting/pageRule'
import type { Occurring } from './occurring'
import { text } from './literals'

const PATH = `substring(address FROM '^\\w+://[^/?#]*([^?#]*)')`
const PATH_AND_QUERY = `substring(address FROM '^\\w+://[^/?#]*(.*)$')`

/** The page of an address as reports name it: without the host where that is the site's. */
export function pageColumn({ basis }: { basis: { address: string } }): string {
  const parts = `regexp_match(address, '^\\w+://([^/?#]*)([^?#]*)')`
  return `CASE WHEN (${parts})[1] = ${text(new URL(basis.address).host)} THEN coalesce(nullif((${parts})[2], ''), '/') ELSE (${parts})[1] || (${parts})[2] END`
}

/** Whether an address fulfils a rule, as `matchesPageRule` decides it. Rules of other kinds are asked of what occurs. */
export function onPage(rule: PageRule, { visits }: Occurring): string {
  if (!isPlainRule(rule)) {
    const found = visits.addresses.texts.filter((address) => address !== '' && matchesPageRule(rule, address))
    return `address IN (${found.map(text).join(', ') || 'NULL'})`
  }
  const { match, value } = rule
  if (match === 'contains')
    return `(position(${text(value)} IN ${PATH_AND_QUERY}) > 0 OR position(${text(encodeURI(value))} IN ${PATH_AND_QUERY}) > 0)`
  const [path = '', query] = value.split('?', 2)
  const encoded = new URL(path, 'https://path.invalid').pathname
  if (match === 'begins')
    return `starts_with(${PATH_AND_QUERY}, ${text(query === undefined ? encoded : `${encoded}?${query}`)})`
  const same = `coalesce(nullif(rtrim(${PATH}, '/'), ''), '/') = ${text(encoded.replace(/(.)\/$/, '$1'))}`
  return query === undefined ? same : `${same} AND right(${PATH_AND_QUERY}, -length(${PATH})) = ${text(`?${query}`)}`
}

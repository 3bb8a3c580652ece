import { OCCURRENCE_WORDS, type OccurrenceKind } from '../../core/notifications/occurrence'
import { localTime } from '../../core/time/localMoment'
import { oneLine, type Letter } from './letters'

/** Something that a letter tells. */
export interface ToldThing {
  siteId: number
  siteName: string
  kind: OccurrenceKind
  title: string
  text: string
  /** Below the site. */
  path: string
  at: Date
  by: string | null
  /** The track of its experiment, drawn as text; empty where there is none. */
  track: string
}

/** So many things are told one by one; of more, how many they are. */
const MOST_TOLD = 20

/**
 * A plain letter about what has happened, by site, the latest last.
 *
 * @param things - at least one
 * @param origin - where people reach Vetch
 * @param timeZone - by whose clock moments are told
 */
export function toldLetter(
  things: readonly ToldThing[],
  { origin, timeZone }: { origin: string; timeZone: string },
): Letter {
  const shown = things.slice(0, MOST_TOLD)
  const sites = [...new Set(shown.map(({ siteId }) => siteId))]
  const parts = sites.map((siteId) => {
    const own = shown.filter((each) => each.siteId === siteId)
    const heading = oneLine(own[0]!.siteName)
    return [heading, '='.repeat(heading.length), '', ...own.map((each) => thingText(each, { origin, timeZone }))].join(
      '\n',
    )
  })
  const more = things.length - shown.length
  const rest = more === 0 ? [] : [`And ${more} more:\n${origin}/sites/${things[0]!.siteId}/news\n`]
  return { subject: subjectOf(things), text: [...parts, ...rest].join('\n') }
}

function thingText(
  { siteId, kind, title, text, path, at, by, track }: ToldThing,
  { origin, timeZone }: { origin: string; timeZone: string },
): string {
  const who = by === null ? '' : `, by ${oneLine(by)}`
  return [
    `${OCCURRENCE_WORDS[kind]}: ${oneLine(title)}`,
    `${localTime(at.getTime(), timeZone).replace('T', ' ')}${who}`,
    ...(text === '' ? [] : [text]),
    ...(track === '' ? [] : ['', track]),
    `${origin}/sites/${siteId}${path}`,
    '',
  ].join('\n')
}

function subjectOf(things: readonly ToldThing[]): string {
  const [first] = things
  if (things.length === 1) return oneLine(`${OCCURRENCE_WORDS[first!.kind]}: ${first!.title}`)
  const sites = [...new Set(things.map(({ siteName }) => oneLine(siteName)))].join(', ')
  const kinds = [...new Set(things.map(({ kind }) => OCCURRENCE_WORDS[kind].toLowerCase()))].join(', ')
  return oneLine(`${things.length} things on ${sites}: ${kinds}`)
}

/** What stands at the end of every such letter. */
export function lessLines(origin: string, key: string): string {
  return `\n-- \nHear less of this, with one click:\n${origin}/less#${key}\nChoose what you are told:\n${origin}/account#told\n`
}

import type { InstallationFinding } from '../../../shared/sites/replies'
import { Parser } from 'htmlparser2'

interface ScriptTag {
  address: string | null
  isInHead: boolean
}

/** A page to look for the script line in. */
export interface InspectedPage {
  /** As served. */
  html: string
  /** Where it was served. */
  address: string
  /** Origin, with a path of the site's own where there is one, that the script must come from. */
  base: string
  /** Key of the site. */
  key: string
}

/** What was found on a page, and the site's own pages that it links to. */
export interface LookedAtPage {
  findings: InstallationFinding[]
  links: string[]
}

/** Looks for the script line in a page. */
export function inspectInstallation({ html, base, key }: Omit<InspectedPage, 'address'>): InstallationFinding[] {
  const scripts = scriptTags(html)
  const isOurs = (script: ScriptTag) =>
    script.address !== null && /^\/s\/[\w-]+\.js$/.test(pathFrom(script.address, base) ?? '')
  const position = scripts.findIndex(isOurs)
  const own = scripts[position]
  if (!own) {
    return [
      {
        check: 'present',
        passed: false,
        text: 'The script line is not on this page. Copy it into the head of the page.',
      },
    ]
  }
  const hasKey = pathFrom(own.address!, base) === `/s/${key}.js`
  return [
    { check: 'present', passed: true, text: 'The script line is on the page.' },
    hasKey
      ? { check: 'key', passed: true, text: 'It carries the key of this site.' }
      : { check: 'key', passed: false, text: 'It carries the key of another site. Copy the line from here again.' },
    own.isInHead
      ? { check: 'head', passed: true, text: 'It stands in the head.' }
      : {
          check: 'head',
          passed: false,
          text: 'It stands outside of the head, so visitors may see the old page first. Move it into the head.',
        },
    position === 0
      ? { check: 'first', passed: true, text: 'It comes before every other script.' }
      : {
          check: 'first',
          passed: false,
          text: `${position} other script${position === 1 ? ' comes' : 's come'} before it. Move the line above ${position === 1 ? 'it' : 'them'}.`,
        },
  ]
}

/** What follows the base in an address, or null when it lies elsewhere. */
function pathFrom(address: string, base: string): string | null {
  if (!URL.canParse(address, base)) return null
  const { origin, pathname } = new URL(address, base)
  return `${origin}${pathname}`.startsWith(base) ? `${origin}${pathname}`.slice(base.length) : null
}

function scriptTags(html: string): ScriptTag[] {
  const scripts: ScriptTag[] = []
  let isInHead = false
  const parser = new Parser({
    onopentag(name, attributes) {
      if (name === 'head') isInHead = true
      if (name === 'body') isInHead = false
      if (name === 'script' && !('data-vetch' in attributes))
        scripts.push({ address: attributes.src ?? null, isInHead })
    },
    onclosetag(name) {
      if (name === 'head') isInHead = false
    },
  })
  parser.end(html)
  return scripts
}

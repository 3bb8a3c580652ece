import { Parser } from 'htmlparser2'
import type { InstallationFinding } from '../../../shared/site'

interface ScriptTag {
  address: string | null
  isInHead: boolean
}

/**
 * Looks for the script line in a page.
 *
 * @param html - the page as served
 * @param vetchOrigin - origin that the script must come from
 * @param key - key of the site
 */
export function inspectInstallation(html: string, vetchOrigin: string, key: string): InstallationFinding[] {
  const scripts = scriptTags(html)
  const isOurs = (script: ScriptTag) =>
    script.address !== null && /^\/s\/[\w-]+\.js$/.test(pathFrom(script.address, vetchOrigin) ?? '')
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
  const hasKey = pathFrom(own.address!, vetchOrigin) === `/s/${key}.js`
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

function pathFrom(address: string, origin: string): string | null {
  if (!URL.canParse(address, origin)) return null
  const url = new URL(address, origin)
  return url.origin === origin ? url.pathname : null
}

function scriptTags(html: string): ScriptTag[] {
  const scripts: ScriptTag[] = []
  let isInHead = false
  const parser = new Parser({
    onopentag(name, attributes) {
      if (name === 'head') isInHead = true
      if (name === 'body') isInHead = false
      if (name === 'script') scripts.push({ address: attributes.src ?? null, isInHead })
    },
    onclosetag(name) {
      if (name === 'head') isInHead = false
    },
  })
  parser.end(html)
  return scripts
}

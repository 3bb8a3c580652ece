import { activationInWords } from '../../core/targeting/activation'
import { conditionInWords, type ConditionNames } from '../../core/targeting/conditionWords'
import type { DryRunAnswer } from '../../core/targeting/dryRun'
import type { Trace } from '../../core/targeting/trace'
import type { PanelThing } from '../../shared/delivery/panel'
import { leave } from '../preview/place'
import { keptChoices } from './choices'
import { native, nativeDocument } from '../native'

interface Told {
  thing: PanelThing
  answer: DryRunAnswer
  /** Position of the variant that is on the page; null for none. */
  shown: number | null
}

const MOST_LINES = 40
const REASONS = {
  page: 'not on this page',
  audience: 'you are not in its audience',
  person: 'the page has not named who you are',
  holdout: 'a holdout keeps you out',
  test: 'left to a test that you are in',
  group: 'another experiment of its group has you',
  share: 'you are outside of its traffic share',
  waits: 'waits',
}
const KINDS = {
  experiment: '',
  rollout: 'rollout, ',
  survey: 'survey, ',
  recording: 'collection, ',
  behavior: 'collection, ',
}
const JOINS = { all: 'all of', any: 'any of', none: 'none of' }
const STYLE = `
  section { position: fixed; right: 12px; bottom: 12px; z-index: 2147483647; width: min(24rem, calc(100vw - 24px)); max-height: 70vh; overflow: auto;
    box-sizing: border-box; padding: 12px 14px; background: #14211b; color: #f4f7f4; font: 13px/1.45 system-ui, sans-serif; border-radius: 6px; text-align: left }
  header { display: flex; gap: 8px; align-items: baseline } header b { flex: 1 }
  ul { list-style: none; margin: 8px 0 0; padding: 0 } li { padding: 6px 0; border-top: 1px solid #3c4f45 } li ul { margin: 0; padding-left: 10px } li li { border: 0; padding: 0 }
  .no { color: #b9c7bf } .yes { color: #9fe0b8 }
  button, select { font: inherit; max-width: 100%; color: #14211b; background: #f4f7f4; border: 1px solid #f4f7f4; border-radius: 4px; padding: 2px 8px; cursor: pointer }
  :focus-visible { outline: 2px solid #e08bbb; outline-offset: 2px } summary { cursor: pointer }
  pre { font: 12px/1.4 ui-monospace, monospace; white-space: pre-wrap; margin: 4px 0 0; overflow-wrap: anywhere }`

/**
 * The panel in a corner of the page, out of reach of its styles. Everything in it is put there as text.
 *
 * @param choose - told the variant that somebody wants to see of an experiment; null for as it is decided
 */
export function createPanel(
  audiences: Readonly<Record<number, string>>,
  choose: (experiment: number, variant: number | null) => void,
) {
  const names: ConditionNames = { audiences }
  const host = nativeDocument.createElement('vetch-panel')
  const root = native(host).attachShadow({ mode: 'open' })
  const section = element('section')
  native(section).setAttribute('role', 'region')
  native(section).setAttribute('aria-label', 'What runs here')
  const head = element('header', element('b', 'What runs here. Nothing is counted.'))
  const fold = element('button', 'Fold')
  const exit = element('button', 'Leave')
  const body = element('div')
  const list = element('ul')
  const lines = element('pre', '')
  const events = element('details', element('summary', 'What happens'), lines)
  native(events).setAttribute('open', '')
  native(body).append(list, events)
  native(fold).addEventListener('click', () => {
    native(body).hidden = !native(body).hidden
    native(fold).textContent = native(body).hidden ? 'Unfold' : 'Fold'
  })
  native(exit).addEventListener('click', () => leave(false))
  native(head).append(fold, exit)
  native(section).append(head, body)
  root.append(element('style', STYLE), section)
  const logged: string[] = []

  return {
    tell(all: readonly Told[]): void {
      const here = [...all].sort(
        (one, other) => Number(one.answer.reason === 'page') - Number(other.answer.reason === 'page'),
      )
      native(list).replaceChildren(...here.map(item))
      if (all.length === 0) native(list).append(element('li', 'Nothing runs on this site, and there are no drafts.'))
      if (!native(host).isConnected) native(nativeDocument.documentElement).append(host)
    },
    log(line: string): void {
      logged.unshift(line)
      logged.length = Math.min(logged.length, MOST_LINES)
      native(lines).textContent = logged.join('\n')
    },
  }

  function item({ thing, answer, shown }: Told): HTMLElement {
    const { reason, variant, trace } = answer
    const decided = variant === null ? 'takes part' : thing.variants[variant]!.name
    const words =
      reason === null
        ? decided
        : reason === 'waits'
          ? `${decided}, ${activationInWords(thing.activation ?? null)}`
          : `no: ${REASONS[reason]}`
    const own = element('li', element('div', `${thing.name} (${KINDS[thing.kind]}${thing.state})`))
    const state = element('div', thing.state === 'running' || reason !== null ? words : `would be ${words}`)
    native(state).className = reason === null ? 'yes' : 'no'
    native(own).append(state)
    if (reason !== 'page' && thing.variants.length > 0) native(own).append(variantChoice(thing, shown))
    if (trace) native(own).append(element('details', element('summary', 'Why'), element('ul', traceItem(trace))))
    return own
  }

  function variantChoice(thing: PanelThing, shown: number | null): HTMLElement {
    const select = nativeDocument.createElement('select')
    select.setAttribute('aria-label', `Variant of ${thing.name} for yourself`)
    const option = (value: string, text: string) => {
      const made = nativeDocument.createElement('option')
      made.value = value
      made.textContent = text
      select.append(made)
    }
    option('', 'as it is decided')
    thing.variants.forEach(({ name }, index) => option(String(index), name))
    select.value = String(keptChoices()[thing.id] ?? '')
    select.addEventListener('change', () => choose(thing.id, select.value === '' ? null : Number(select.value)))
    return element('div', select, shown === null ? '' : ` on the page: ${thing.variants[shown]?.name ?? ''}`)
  }

  function traceItem(trace: Trace): HTMLElement {
    const words = 'test' in trace ? conditionInWords(trace.test, names) : JOINS[trace.join]
    const found = 'test' in trace ? foundWords(trace) : ''
    const own = element('li', element('span', `${trace.holds ? '✓' : '✕'} ${words}${found}`))
    const inside = 'of' in trace ? trace.of : trace.audience ? [trace.audience] : []
    if (inside.length > 0) native(own).append(element('ul', ...inside.map(traceItem)))
    return own
  }
}

function foundWords({ found, problem }: Extract<Trace, { test: object }>): string {
  if (problem === 'unknown') return ': not known'
  if (problem === 'gone') return ''
  return `: found ${JSON.stringify(found)}${problem === 'type' ? ', of another type' : ''}`
}

function element(name: string, ...children: (Node | string)[]): HTMLElement {
  const made = nativeDocument.createElement(name)
  native(made).append(...children)
  return made
}

import { isInTest } from '../../core/assignment/assignment'
import { matchesPage } from '../../core/targeting/pageRule'
import type { Recorder, RecorderContext } from '../../shared/intake/recorder'
import type { DeliveredSurvey } from '../../shared/surveys/survey'
import { introduce } from '../recorder/introduce'
import { safely } from '../snippet/safely'
import { keepAsked, mayAsk } from './asked'
import { awaitMoment } from './moments'
import { showSurvey } from './surveyPanel'
import { nativeDocument } from '../native'

declare const __VETCH_SURVEYS__: DeliveredSurvey[]

const key = new URL((nativeDocument.currentScript as HTMLScriptElement).src).searchParams.get('key') ?? ''
introduce('survey', key, startSurveys)

/** Shows the first survey of a page whose moment has come. */
function startSurveys({ tell, visitor, place, fulfils }: RecorderContext): Recorder {
  const heard = new Set<(name: string) => void>()
  const unhook = hearEvents((name) => heard.forEach((each) => each(name)))
  const onEvent = (each: (name: string) => void) => {
    heard.add(each)
    return () => void heard.delete(each)
  }
  let waiting: (() => void)[] = []
  let takeAway: (() => void) | null = null

  function disarm(): void {
    waiting.forEach((stop) => stop())
    waiting = []
  }

  function show(survey: DeliveredSurvey): void {
    if (takeAway || !mayAsk(survey.id, place().session)) return
    // Asked now, not as the page opens: what the visitor has done since counts.
    if (survey.audience && !(fulfils && safely(() => fulfils(survey.audience!)))) return
    if (!keepAsked(survey.id, place().session)) return
    disarm()
    tell({ type: 'asked', properties: { survey: survey.id } })
    takeAway = showSurvey(survey, {
      answered: ({ id }, answer) =>
        tell({ type: 'answer', properties: { survey: survey.id, question: id, ...answer } }),
      closed: () => (takeAway = null),
    })
  }

  return {
    enter() {
      disarm()
      const those = __VETCH_SURVEYS__.filter((survey) =>
        safely(() => matchesPage(survey.pages, location.href) && isInTest(visitor, survey)),
      )
      waiting = those
        .filter(({ id }) => mayAsk(id, place().session))
        .map((survey) => awaitMoment(survey.moment, onEvent, () => show(survey)))
    },
    leave: disarm,
    stop() {
      disarm()
      unhook()
      takeAway?.()
      takeAway = null
    },
  }
}

/** Hears the events of the page's own, which it pushes onto `window.vetch`. */
function hearEvents(on: (name: string) => void): () => void {
  const list = (window as unknown as { vetch?: unknown }).vetch
  if (!Array.isArray(list)) return () => {}
  const { push } = list
  const hear = (...commands: unknown[]) => {
    for (const command of commands) {
      const name = (command as { event?: unknown } | null)?.event
      if (typeof name === 'string') on(name)
    }
    return push.apply(list, commands)
  }
  list.push = hear
  return () => {
    if (list.push === hear) list.push = push
  }
}

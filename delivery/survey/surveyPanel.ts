import { isAnswered, nextQuestion, NO_ANSWER, type Question, type SurveyAnswer } from '../../core/survey/survey'
import { SURVEY_TAG } from '../../shared/intake/recorder'
import type { SurveyContent } from '../../shared/surveys/survey'
import { questionFields } from './questionFields'
import { STYLE } from './style'
import { make } from './make'
import { native, nativeDocument } from '../native'

/** What of a survey is drawn. */
export type ShownSurvey = Pick<SurveyContent, 'questions' | 'thanks' | 'words'>

interface SurveyHandlers {
  answered: (question: Question, answer: SurveyAnswer) => void
  /** It is gone: to its end, or because somebody closed it. */
  closed: () => void
}

/** How long the thanks stay, in ms. */
const THANKS_TIME = 6000
/** Up to this width of the window, in pixels, it takes all of it. */
const NARROW = 480

/**
 * Draws a survey into a page, in a shadow tree that the page's styles do not reach. It takes no focus by itself: whoever
 * is typing goes on typing. Escape closes it from within.
 *
 * @param place - what it is put into
 * @param isNarrow - whether it takes all of the width
 * @returns a function that takes it away
 */
export function showSurvey(
  survey: ShownSurvey,
  on: SurveyHandlers,
  place: Element = nativeDocument.body,
  isNarrow = innerWidth <= NARROW,
): () => void {
  const host = nativeDocument.createElement(SURVEY_TAG)
  native(host).toggleAttribute('narrow', isNarrow)
  const root = native(host).attachShadow({ mode: 'open' })
  const body = make('div', { className: 'body' })
  const close = make('button', { type: 'button', className: 'close', title: survey.words.close, onclick: end }, '×')
  close.setAttribute('aria-label', survey.words.close)
  const panel = make('section', { className: 'panel', onkeydown }, close, body)
  native(panel).setAttribute('role', 'dialog')
  native(panel).setAttribute('aria-labelledby', 'words')
  // Told when there is time for it, as it comes and as it goes on.
  body.setAttribute('aria-live', 'polite')
  addStyle(root)
  root.append(panel)
  let timer: ReturnType<typeof setTimeout> | undefined
  if (survey.questions[0]) ask(survey.questions[0], false)
  native(place).append(host)

  function ask(question: Question, hasFocus: boolean): void {
    let answer = NO_ANSWER
    const send = make('button', { type: 'submit', className: 'go', disabled: !question.isOptional })
    const label = () => {
      send.disabled = !question.isOptional && !isAnswered(answer)
      send.textContent = nextQuestion(survey.questions, question.id, answer) ? survey.words.next : survey.words.send
    }
    const fields = questionFields(question, (given) => {
      answer = given
      label()
    })
    label()
    const onsubmit = (event: Event) => {
      event.preventDefault()
      if (isAnswered(answer)) on.answered(question, answer)
      const next = nextQuestion(survey.questions, question.id, answer)
      if (next) ask(next, true)
      else thank()
    }
    const words = make('h2', { id: 'words', tabIndex: -1 }, question.words)
    body.replaceChildren(make('form', { noValidate: true, onsubmit }, words, fields, send))
    if (hasFocus) words.focus()
  }

  function thank(): void {
    const words = make('h2', { id: 'words', tabIndex: -1 }, survey.thanks)
    body.replaceChildren(words)
    words.focus()
    timer = setTimeout(end, THANKS_TIME)
  }

  function onkeydown(event: KeyboardEvent): void {
    if (event.key === 'Escape') end()
    // Shortcuts of the page are not meant here.
    event.stopPropagation()
  }

  function end(): void {
    if (!native(host).isConnected) return
    remove()
    on.closed()
  }
  function remove(): void {
    clearTimeout(timer)
    native(host).remove()
  }
  return remove
}

/** As a sheet that scripts make: policies of pages forbid other styles more often. */
function addStyle(root: ShadowRoot): void {
  if (!('adoptedStyleSheets' in root)) {
    ;(root as ShadowRoot).append(make('style', {}, STYLE))
    return
  }
  const sheet = new CSSStyleSheet()
  sheet.replaceSync(STYLE)
  root.adoptedStyleSheets = [sheet]
}

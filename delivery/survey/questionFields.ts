import { LONGEST_ANSWER } from '../../core/evidence/behavior'
import { NO_ANSWER, type Question, type SurveyAnswer } from '../../core/survey/survey'
import { make } from './make'

/** What one answers a question with; told at each change. */
export function questionFields(question: Question, onChange: (answer: SurveyAnswer) => void): HTMLElement {
  if (question.kind === 'text') return textField(onChange)
  if (question.kind === 'scale') return scaleFields(question, onChange)
  return choiceFields(question, onChange)
}

function textField(onChange: (answer: SurveyAnswer) => void): HTMLElement {
  const field = make('textarea', { rows: 3, maxLength: LONGEST_ANSWER })
  field.setAttribute('aria-labelledby', 'words')
  field.oninput = () => onChange({ ...NO_ANSWER, text: field.value.trim() })
  return field
}

function choiceFields({ kind, choices }: Question, onChange: (answer: SurveyAnswer) => void): HTMLElement {
  const inputs = choices.map(({ id }) =>
    make('input', { type: kind === 'one' ? 'radio' : 'checkbox', name: 'answer', value: id }),
  )
  const labels = choices.map(({ words }, index) => make('label', { className: 'choice' }, inputs[index]!, words))
  const tell = () =>
    onChange({ ...NO_ANSWER, choices: inputs.filter(({ checked }) => checked).map(({ value }) => value) })
  return group('choices', labels, tell)
}

function scaleFields({ scale }: Question, onChange: (answer: SurveyAnswer) => void): HTMLElement {
  const { low, high, lowWords, highWords } = scale!
  const values = Array.from({ length: high - low + 1 }, (_, index) => low + index)
  const inputs = values.map((value) => make('input', { type: 'radio', name: 'answer', value: String(value) }))
  // The ends say what they mean to those who hear them too.
  const meanings = new Map([
    [low, lowWords],
    [high, highWords],
  ])
  const steps = values.map((value, index) => {
    const meaning = meanings.get(value)
    if (meaning) inputs[index]!.setAttribute('aria-label', `${value}, ${meaning}`)
    return make('label', { className: 'step' }, inputs[index]!, make('span', {}, String(value)))
  })
  const ends = make('div', { className: 'ends' }, make('span', {}, lowWords), make('span', {}, highWords))
  ends.setAttribute('aria-hidden', 'true')
  const tell = () => onChange({ ...NO_ANSWER, value: Number(inputs.find(({ checked }) => checked)!.value) })
  const row = make('div', { className: 'row' }, ...steps)
  return group('scale', [row, ends], tell)
}

function group(className: string, inside: Node[], onchange: () => void): HTMLElement {
  const element = make('div', { className, onchange }, ...inside)
  element.setAttribute('role', 'group')
  element.setAttribute('aria-labelledby', 'words')
  return element
}

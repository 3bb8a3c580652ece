import { expect, test } from 'vitest'
import { END, isAnswered, nextQuestion, NO_ANSWER, unreachable, type Branch, type Question } from './survey'

const question = (id: string, changes: Partial<Question> = {}): Question => ({
  id,
  kind: 'one',
  words: `${id}?`,
  isOptional: false,
  scale: null,
  branches: [],
  choices: [
    { id: 'yes', words: 'Yes' },
    { id: 'no', words: 'No' },
  ],
  ...changes,
})
const onChoice = (choice: string, next: string): Branch => ({ choice, low: null, high: null, next })
const onScale = (low: number, high: number, next: string): Branch => ({ choice: null, low, high, next })
const scale = { low: 1, high: 5, lowWords: 'Poor', highWords: 'Good' }

test('an answer leads where its branch says, any other to the question below', () => {
  const questions = [
    question('a', { branches: [onChoice('no', 'c')] }),
    question('b', { kind: 'scale', scale, branches: [onScale(4, 5, END)] }),
    question('c', { kind: 'several', branches: [onChoice('yes', END), onChoice('no', 'd')] }),
    question('d', { kind: 'text' }),
  ]
  const next = (id: string, answer: Partial<typeof NO_ANSWER>) =>
    nextQuestion(questions, id, { ...NO_ANSWER, ...answer })?.id ?? null
  expect(next('a', { choices: ['no'] })).toBe('c')
  expect(next('a', { choices: ['yes'] })).toBe('b')
  expect(next('a', {})).toBe('b')
  expect(next('b', { value: 4 })).toBeNull()
  expect(next('b', { value: 3 })).toBe('c')
  // Of several branches that fit the first is taken.
  expect(next('c', { choices: ['no', 'yes'] })).toBeNull()
  expect(next('c', { choices: ['no'] })).toBe('d')
  expect(next('d', { text: 'Anything' })).toBeNull()
  expect(next('gone', {})).toBeNull()
})

test('a branch never leads back', () => {
  const questions = [question('a'), question('b', { branches: [onChoice('no', 'a')] }), question('c')]
  expect(nextQuestion(questions, 'b', { ...NO_ANSWER, choices: ['no'] })).toBeNull()
})

test('questions to which no answer leads are found', () => {
  const both = [onChoice('yes', 'c'), onChoice('no', END)]
  expect(unreachable([question('a', { branches: both }), question('b'), question('c')])).toEqual(['b'])
  expect(unreachable([question('a', { branches: both, isOptional: true }), question('b'), question('c')])).toEqual([])
  const wide = question('a', { kind: 'scale', scale, branches: [onScale(1, 3, 'c'), onScale(4, 5, END)] })
  expect(unreachable([wide, question('b'), question('c')])).toEqual(['b'])
  const gap = question('a', { kind: 'scale', scale, branches: [onScale(1, 2, 'c'), onScale(4, 5, END)] })
  expect(unreachable([gap, question('b'), question('c')])).toEqual([])
})

test('spaces are no answer', () => {
  expect(isAnswered({ ...NO_ANSWER, text: '  \n' })).toBe(false)
  expect(isAnswered({ ...NO_ANSWER, text: 'no' })).toBe(true)
  expect(isAnswered({ ...NO_ANSWER, value: 0 })).toBe(true)
})

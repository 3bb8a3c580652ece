import { expect, test } from 'vitest'
import { answerGroups, commonWords, wordsOf } from './commonWords'

const ANSWERS = [
  'Can I bring my dog?',
  'Are DOGS allowed on the ferry',
  'How long is the crossing? And are dogs’ tickets extra?',
  'Price for the ferry with a van',
  'prices',
  '???',
]

test('words are counted once an answer, whatever their case and number', () => {
  expect(wordsOf('Are dogs allowed? My dog’s small. DOG')).toEqual(['dog', 'allowed', 'small'])
  expect(wordsOf('ferries classes bus boxes glass')).toEqual(['ferry', 'class', 'bus', 'box', 'glass'])
  expect(wordsOf('Für Fähren, 12,50 €')).toEqual(['für', 'fähren'])
  expect(commonWords(ANSWERS, 2)).toEqual([
    { word: 'dog', answers: [0, 1, 2] },
    { word: 'ferry', answers: [1, 3] },
  ])
})

test('answers are grouped by the word that most of those left share, each once', () => {
  const { groups, others } = answerGroups(ANSWERS, 8)
  expect(groups).toEqual([
    { word: 'dog', answers: [0, 1, 2] },
    { word: 'price', answers: [3, 4] },
  ])
  expect(others).toEqual([5])
  expect(answerGroups(ANSWERS, 1).others).toEqual([3, 4, 5])
  expect(answerGroups([], 8)).toEqual({ groups: [], others: [] })
})

import { readdirSync, readFileSync } from 'node:fs'
import { expect, test, vi } from 'vitest'
import { interfaceStrings, stringsOf } from './interfaceStrings'
import { avoidedWords, wordProblems } from './wordProblems'
import { longSentences } from './longSentences'

// Every file of the interface is parsed, beside other tests.
vi.setConfig({ testTimeout: 120_000 })

const avoided = avoidedWords(readFileSync('docs/words.md', 'utf8'))

test('texts of templates, attributes, expressions and messages are found, and what programs read is not', () => {
  const source = `<script setup lang="ts">
import { ref } from 'vue'
const HINT = 'Type a name.'
const rows = [{ id: 'name', header: 'Name of it' }]
document.querySelector('main > p')
</script>
<template>
  <p class="mt-2 flex">Day {{ day }} of <b>{{ total }}</b>.</p>
  <TextField label="Share" :hint="isOpen ? 'Now open.' : \`At most \${most}.\`" @click="go('Away now.')" />
</template>`
  expect(stringsOf('app/a.vue', source).map(({ line, text }) => [line, text])).toEqual([
    [3, 'Type a name.'],
    [4, 'Name of it'],
    [8, 'Day {…} of {…}.'],
    [9, 'Share'],
    [9, 'Now open.'],
    [9, 'At most {…}.'],
  ])
})

test('a long sentence and a word that is avoided are problems; names that hold such a word are none', () => {
  expect(avoidedWords('| Say | For | Do not say |\n| --- | --- | --- |\n| Discard | x | Throw away; Bin |')).toEqual([
    'Throw away',
    'Bin',
  ])
  expect(wordProblems('Throw away', ['Throw away'])).toEqual(['says “Throw away”'])
  expect(wordProblems('Go online', ['Go on'])).toEqual([])
  expect(wordProblems(`${'word '.repeat(20)}end. Short.`, [])).toEqual(['has a sentence of 21 words'])
  expect(wordProblems(`${'word '.repeat(12)}end. ${'word '.repeat(12)}end.`, [])).toEqual([])
})

test('every text of the interface is short and says the same act by the same word', () => {
  const strings = interfaceStrings()
  expect(strings.length).toBeGreaterThan(3000)
  const problems = strings.flatMap(({ file, line, text }) =>
    wordProblems(text, avoided).map((problem) => `${file}:${line} ${problem}: ${text}`),
  )
  expect(problems).toEqual([])
})

test('every sentence of the docs is short; tables, code and formulas are passed over', () => {
  const long = `${'word '.repeat(30)}end.`
  expect(longSentences(`# ${long}\n| ${long} |\n\`${long}\` Short: yes.\n${long}`)).toEqual([long])
  const problems = readdirSync('docs')
    .filter((file) => file.endsWith('.md'))
    .flatMap((file) => longSentences(readFileSync(`docs/${file}`, 'utf8')).map((text) => `${file}: ${text}`))
  expect(problems).toEqual([])
})

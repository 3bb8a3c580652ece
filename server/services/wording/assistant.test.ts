import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { afterEach, expect, test } from 'vitest'
import { findWordings } from './assistant'

const asked = { text: 'Find a crossing', manner: 'warmer', element: 'button', around: 'Three islands' } as const
let server: Server | undefined
afterEach(() => server?.close())

/** An assistant that answers so, and what it was asked. */
async function assistant(status: number, body: string) {
  const heard: { authorization?: string; body: string }[] = []
  server = createServer((request, response) => {
    let text = ''
    request.on('data', (chunk) => (text += chunk))
    request.on('end', () => {
      heard.push({ authorization: request.headers.authorization, body: text })
      response.writeHead(status, { 'content-type': 'application/json' }).end(body)
    })
  })
  await new Promise<void>((started) => server!.listen(0, '127.0.0.1', started))
  return { heard, url: `http://127.0.0.1:${(server.address() as AddressInfo).port}/v1/chat/completions` }
}
const completion = (content: string) => JSON.stringify({ choices: [{ message: { role: 'assistant', content } }] })

test('without an address the rules answer, and say so', async () => {
  const { ideas, source } = await findWordings(asked, { url: '', key: '', model: '' })
  expect(source).toBe('rules')
  expect(ideas[0]).toBe('Find your crossing')
})

test('an assistant is asked by the protocol of chat completions; its lines are the ideas', async () => {
  const { heard, url } = await assistant(200, completion('1. Find your boat\n- Pick your island\n\nFind a crossing\n'))
  expect(await findWordings(asked, { url, key: 'secret', model: 'small' })).toEqual({
    ideas: ['Find your boat', 'Pick your island'],
    source: 'assistant',
  })
  expect(heard[0]!.authorization).toBe('Bearer secret')
  const body = JSON.parse(heard[0]!.body) as { model: string; messages: { role: string; content: string }[] }
  expect(body.model).toBe('small')
  expect(body.messages.map(({ role }) => role)).toEqual(['system', 'user'])
  expect(body.messages[1]!.content).toContain('Find a crossing')
})

test.each([
  [500, 'x', /answered with 500/],
  [200, 'x', /no chat completion/],
  [200, '{"choices":[]}', /no chat completion/],
])('an answer of %i %s is told, and is no idea', async (status, body, message) => {
  const { url } = await assistant(status, body)
  await expect(findWordings(asked, { url, key: 'secret', model: '' })).rejects.toThrow(message)
  await expect(findWordings(asked, { url: 'http://127.0.0.1:9', key: 'secret', model: '' })).rejects.toThrow(
    /cannot be reached/,
  )
})

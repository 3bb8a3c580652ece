import { expect, it } from 'vitest'
import { linkedPaths } from '../../server/services/sites/linkedPaths'
import { nextToLookAt } from './crawlOrder'

it('pages of areas that were looked at least come first, in the order in which they were found', () => {
  const found = ['/', '/shop/a', '/shop/b', '/help/a', '/shop/c']
  const looked: string[] = []
  for (let next = nextToLookAt(found, looked); next !== null; next = nextToLookAt(found, looked)) looked.push(next)
  expect(looked).toEqual(['/', '/shop/a', '/help/a', '/shop/b', '/shop/c'])
})

it('links lead to pages of the same site, whatever they carry, and to no files', () => {
  const html = `<base href="/en/"><a href="book?step=2#top">Book</a><a href="/en/book">Again</a>
    <a href="https://other.example/x">Elsewhere</a><a href="/terms.pdf">File</a><a href="mailto:a@b.example">Mail</a>
    <a href="http://[">Broken</a><a>None</a><a href="/help/dogs">Dogs</a>`
  expect(linkedPaths(html, 'https://shop.example/')).toEqual(['/en/book', '/help/dogs'])
})

import { nativeDocument } from '../native'

/** An element with its properties and what stands in it. Texts stay texts. */
export function make<Tag extends keyof HTMLElementTagNameMap>(
  tag: Tag,
  properties: Partial<Omit<HTMLElementTagNameMap[Tag], 'style'>> = {},
  ...inside: (Node | string)[]
): HTMLElementTagNameMap[Tag] {
  const element = Object.assign(nativeDocument.createElement(tag), properties)
  element.append(...inside)
  return element
}

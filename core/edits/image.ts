import { describeElement, shortened, type OfElement } from './element'
import { mergeValues, type EditKind } from './kind'
import { attributeProblem } from './markup'

export interface Picture {
  /** Address, of a file that was uploaded or of one that is elsewhere. */
  address: string
  /** What is read where the picture is not seen. */
  alt: string
}

/** Shows another picture in the place of one; of other elements it becomes the background. */
export interface ImageEdit extends OfElement {
  kind: 'image'
  value: Picture
  original: Picture
}

const LONGEST_ADDRESS = 2000

export const imageKind: EditKind<ImageEdit> = {
  problems({ value, original }) {
    const problems: string[] = []
    if (!value.address.trim()) problems.push('Choose a picture, or type the address of one.')
    if (value.address.length > LONGEST_ADDRESS)
      problems.push(`The address is longer than ${LONGEST_ADDRESS} characters.`)
    const problem = attributeProblem('src', value.address)
    if (problem) problems.push(problem)
    if (value.address === original.address && value.alt === original.alt)
      problems.push('This is the picture that is there already.')
    return problems
  },
  describe: (edit) =>
    edit.value.address === edit.original.address
      ? `The ${describeElement(edit)} is described as “${shortened(edit.value.alt)}”`
      : `The ${describeElement(edit)} shows ${fileName(edit.value.address)}${edit.value.alt ? ` (“${shortened(edit.value.alt)}”)` : ''}`,
  changes: ({ selector }) => `image ${selector}`,
  merge: mergeValues,
}

/** The name that a file was uploaded under stands in the fragment of its address, which browsers do not ask for. */
function fileName(address: string): string {
  const [, name] = /^[^#]*\/pictures\/[^#]+#(.+)$/.exec(address) ?? []
  const [path] = address.split(/[?#]/)
  return shortened(name ? decoded(name) : (path!.split('/').filter(Boolean).at(-1) ?? address), 40)
}

function decoded(text: string): string {
  try {
    return decodeURIComponent(text)
  } catch {
    return text
  }
}

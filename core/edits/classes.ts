import { describeElement, type OfElement } from './element'
import type { EditKind } from './kind'

/** Gives classes to an element, and takes others away. */
export interface ClassesEdit extends OfElement {
  kind: 'classes'
  add: string[]
  remove: string[]
}

const MOST_CLASSES = 30

export const classesKind: EditKind<ClassesEdit> = {
  problems({ add, remove }) {
    const problems: string[] = []
    if (add.length + remove.length === 0) problems.push('Name a class to add or remove.')
    if (add.length + remove.length > MOST_CLASSES) problems.push(`At most ${MOST_CLASSES} classes can be named.`)
    for (const name of [...add, ...remove])
      if (!/^[^\s"'<>]{1,100}$/.test(name)) problems.push(`“${name}” is not the name of a class.`)
    for (const name of add) if (remove.includes(name)) problems.push(`${name} is both added and removed.`)
    return problems
  },
  describe(edit) {
    const parts = [
      edit.add.length > 0 ? `gets ${edit.add.join(', ')}` : '',
      edit.remove.length > 0 ? `loses ${edit.remove.join(', ')}` : '',
    ]
    return `Classes: ${describeElement(edit)} ${parts.filter(Boolean).join(' and ')}`
  },
  changes: ({ selector }) => `classes ${selector}`,
  // Of each class the later word counts.
  merge: (earlier, later) => ({
    ...later,
    add: [...new Set([...earlier.add.filter((name) => !later.remove.includes(name)), ...later.add])],
    remove: [...new Set([...earlier.remove.filter((name) => !later.add.includes(name)), ...later.remove])],
  }),
}

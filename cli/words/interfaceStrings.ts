import { readdirSync, readFileSync } from 'node:fs'
import { parse } from 'vue/compiler-sfc'
import ts from 'typescript'

/** A text that people read, with where it stands. */
export interface InterfaceString {
  /** File, from the project's folder. */
  file: string
  line: number
  /** Expressions in it are written as {…}. */
  text: string
}

/** What is put into a text. */
export const FILLED = '{…}'
const TEXT = 2
const INTERPOLATION = 5
const ELEMENT = 1
const DIRECTIVE = 7
/** Attributes and fields whose text is read, whatever it looks like. */
const READ = new Set(
  'label title hint note text placeholder alt header words action unit summary what nothing aria-label definition'.split(
    ' ',
  ),
)
const FOLDERS = ['app', 'core', 'shared', 'server', 'delivery', 'cli/help']
const LEFT_OUT = /\.test\.ts$|^app\/development\/|\/migrations\//

const STATEMENT = /\b(SELECT|INSERT)\b[^]*\b(FROM|INTO)\b|^INSERT INTO/

/** All texts of the interface, of messages, letters and the command line, file by file. */
export function interfaceStrings(): InterfaceString[] {
  const files = FOLDERS.flatMap((folder) =>
    readdirSync(folder, { recursive: true, encoding: 'utf8' }).map((name) => `${folder}/${name}`),
  )
  return files
    .filter((file) => /\.(vue|ts|txt)$/.test(file) && !LEFT_OUT.test(file))
    .sort()
    .flatMap((file) => stringsOf(file, readFileSync(file, 'utf8')))
}

/** The texts of one file. */
export function stringsOf(file: string, source: string): InterfaceString[] {
  if (file.endsWith('.vue')) return stringsOfComponent(file, source)
  if (file.endsWith('.txt'))
    return source.split('\n').map((text, index) => ({ file, line: index + 1, text: text.trim() }))
  return stringsOfScript(file, source, 1)
}

interface TemplateNode {
  type: number
  content?: unknown
  loc: { start: { line: number } }
  children?: TemplateNode[]
  props?: {
    type: number
    name: string
    value?: { content: string }
    arg?: { content?: string }
    exp?: { content?: string }
  }[]
}

function stringsOfComponent(file: string, source: string): InterfaceString[] {
  const { descriptor } = parse(source)
  const script = descriptor.scriptSetup ?? descriptor.script
  const ofScript = script ? stringsOfScript(file, script.content, script.loc.start.line) : []
  const root = descriptor.template?.ast as unknown as TemplateNode | undefined
  return [...ofScript, ...(root ? stringsOfTemplate(file, root) : [])]
}

function stringsOfTemplate(file: string, root: TemplateNode): InterfaceString[] {
  const found: InterfaceString[] = []
  const add = (line: number, text: string) => {
    const plain = text.replace(/\s+/g, ' ').trim()
    if (/\p{L}/u.test(plain.replaceAll(FILLED, ''))) found.push({ file, line, text: plain })
  }
  const addExpression = (line: number, expression: string, isRead: boolean) => {
    for (const each of stringsOfExpression(expression, isRead)) add(line, each)
  }
  const visit = (node: TemplateNode, isInText: boolean): void => {
    const { line } = node.loc.start
    for (const prop of node.props ?? []) {
      if (prop.type !== DIRECTIVE) {
        if (READ.has(prop.name) && prop.value) add(line, prop.value.content)
      } else if (prop.name === 'bind' && prop.exp?.content && prop.arg?.content !== 'class')
        addExpression(line, prop.exp.content, READ.has(prop.arg?.content ?? ''))
    }
    const children = node.children ?? []
    const hasText = children.some(({ type, content }) => type === TEXT && String(content).trim() !== '')
    if (hasText && !isInText) add(line, textOf(node))
    for (const child of children) {
      if (child.type === INTERPOLATION) addExpression(line, (child.content as { content: string }).content, true)
      if (child.type === ELEMENT) visit(child, isInText || hasText)
    }
  }
  visit(root, false)
  return found
}

/** All that is read of an element, with what stands inside of it. */
function textOf({ type, content, children = [] }: TemplateNode): string {
  if (type === TEXT) return String(content)
  if (type === INTERPOLATION) return FILLED
  return children.map(textOf).join('')
}

function stringsOfExpression(expression: string, isRead: boolean): string[] {
  return stringsOfScript('', `(${expression})`, 1, isRead).map(({ text }) => text)
}

function stringsOfScript(file: string, source: string, firstLine: number, isRead = false): InterfaceString[] {
  const parsed = ts.createSourceFile(file, source, ts.ScriptTarget.Latest, true, ts.ScriptKind.TS)
  const found: InterfaceString[] = []
  const visit = (node: ts.Node, isField: boolean): void => {
    if (ts.isImportDeclaration(node) || ts.isExportDeclaration(node) || ts.isTypeNode(node)) return
    if (ts.isCallExpression(node) && isOfProgram(node)) return
    const text = textOfLiteral(node)
    if (text !== null && !STATEMENT.test(text) && (isField || isRead || isSentence(text))) {
      const line = firstLine + parsed.getLineAndCharacterOfPosition(node.getStart()).line
      if (/\p{L}{2}/u.test(text.replaceAll(FILLED, '')))
        found.push({ file, line, text: text.replace(/\s+/g, ' ').trim() })
    }
    const isOfField = ts.isPropertyAssignment(node) && READ.has(node.name.getText().replace(/['"]/g, ''))
    ts.forEachChild(node, (child) => visit(child, isOfField || (isField && !ts.isCallExpression(child))))
  }
  visit(parsed, false)
  return found
}

/** What is said to programs: queries, selectors, patterns. */
function isOfProgram({ expression }: ts.CallExpression): boolean {
  return /(^|\.)(querySelector(All)?|matches|closest|locator|execute|query|matchMedia)$/.test(expression.getText())
}

function textOfLiteral(node: ts.Node): string | null {
  if (ts.isStringLiteral(node) || ts.isNoSubstitutionTemplateLiteral(node))
    return ts.isTaggedTemplateExpression(node.parent) ? null : node.text
  if (ts.isTemplateExpression(node) && !ts.isTaggedTemplateExpression(node.parent))
    return node.head.text + node.templateSpans.map(({ literal }) => FILLED + literal.text).join('')
  return null
}

/** Whether a text is one that people read: it begins as a sentence does, or ends so, and has a space. */
function isSentence(text: string): boolean {
  return / /.test(text) && /^["“\p{Lu}{]/u.test(text) && !/[<>;=]|\b(SELECT|FROM|INSERT|SET)\b|--|^M\d/.test(text)
}

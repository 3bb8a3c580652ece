import { ESLintUtils } from '@typescript-eslint/utils'

/** What answers with its fields, or with the names of a page, before its own properties: or may be such a thing. */
const CLOBBERED = new Set([
  'Node',
  'ParentNode',
  'ChildNode',
  'EventTarget',
  'Element',
  'HTMLElement',
  'HTMLFormElement',
  'HTMLOrSVGElement',
  'ElementCSSInlineStyle',
  'Document',
  'HTMLDocument',
])

/**
 * Forbids to read a property of a form or a document, or of what may be one, other than by `native`: `form.children` may
 * be a field of that name. See `delivery/native.ts`.
 */
export const nativeReads = ESLintUtils.RuleCreator.withoutDocs({
  meta: {
    type: 'problem',
    fixable: 'code',
    schema: [],
    messages: {
      named:
        'A form may have a field of this name, and a document an image: read it by native(…), or by nativeDocument.',
    },
  },
  defaultOptions: [],
  create(context) {
    const services = ESLintUtils.getParserServices(context)
    const mayBeClobbered = (node) => {
      const type = services.getTypeAtLocation(node)
      return (type.isUnion() ? type.types : [type]).some((each) => CLOBBERED.has(each.getSymbol()?.name))
    }
    const isNative = (node) =>
      (node.type === 'CallExpression' && node.callee.name === 'native') ||
      node.name === 'nativeDocument' ||
      (node.type === 'MemberExpression' && node.property.name === 'prototype')
    /** Where a page keeps scripts from its cookies, it does so here. */
    const isCookie = ({ parent }) => parent.type === 'MemberExpression' && parent.property.name === 'cookie'
    const check = (node) => {
      if (isNative(node) || isCookie(node) || !mayBeClobbered(node)) return
      context.report({
        node,
        messageId: 'named',
        fix: (fixer) =>
          fixer.replaceText(
            node,
            context.sourceCode.getText(node) === 'document'
              ? 'nativeDocument'
              : `native(${context.sourceCode.getText(node)})`,
          ),
      })
    }
    return {
      MemberExpression: ({ object }) => check(object),
      'VariableDeclarator[id.type="ObjectPattern"]': ({ init }) => init && check(init),
      ':function > ObjectPattern': (node) => {
        if (mayBeClobbered(node)) context.report({ node, messageId: 'named' })
      },
    }
  },
})

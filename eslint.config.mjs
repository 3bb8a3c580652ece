import vue from 'eslint-plugin-vue'
import typescript from 'typescript-eslint'
import vueParser from 'vue-eslint-parser'

/** Refuses imports that would point against the way of dependencies: app → shared, core; server → shared, core; delivery → core. */
const boundary = (files, folders, message) => ({
  files,
  ignores: ['**/*.test.ts'],
  rules: {
    'no-restricted-imports': ['error', { patterns: [{ regex: `(^|/)(${folders.join('|')})/|^~~/(${folders.join('|')})/`, message }] }],
  },
})
const anyPackage = (files, allowed) => ({
  files,
  ignores: ['**/*.test.ts'],
  rules: {
    '@typescript-eslint/no-restricted-imports': ['error', { patterns: [{ regex: `^(?!\\.{1,2}/|${allowed})`, message: 'core/ imports nothing but itself and small pure libraries.' }] }],
  },
})

export default typescript.config(
  { ignores: ['.nuxt/**', '.output/**', '.data/**', 'test-results/**', '**/migrations/**'] },
  ...typescript.configs.recommended,
  ...vue.configs['flat/recommended'],
  { files: ['**/*.vue'], languageOptions: { parser: vueParser, parserOptions: { parser: typescript.parser } } },
  anyPackage(['core/**/*.ts'], '@stdlib/|pure-rand/'),
  boundary(['core/**/*.ts'], ['app', 'server', 'shared', 'delivery', 'cli', 'demo', 'tests', 'bench'], 'core/ imports nothing outside of core/.'),
  boundary(['shared/**/*.ts'], ['app', 'server', 'delivery', 'cli', 'demo', 'tests', 'bench'], 'shared/ imports from core/ only.'),
  boundary(['delivery/**/*.ts'], ['app', 'server', 'cli', 'demo', 'tests', 'bench'], 'delivery/ imports from core/ and the protocols in shared/ only.'),
  boundary(['app/**/*.{ts,vue}'], ['server', 'delivery', 'cli', 'demo', 'tests', 'bench'], 'app/ imports from shared/ and core/ only.'),
  boundary(['server/**/*.ts'], ['app', 'delivery', 'cli', 'demo', 'tests', 'bench'], 'server/ imports from shared/ and core/ only.'),
  {
    rules: {
      eqeqeq: 'error',
      '@typescript-eslint/no-explicit-any': 'error',
      'vue/multi-word-component-names': 'off',
      'vue/html-self-closing': 'off',
      'vue/max-attributes-per-line': 'off',
      'vue/singleline-html-element-content-newline': 'off',
      'vue/require-default-prop': 'off',
      'vue/no-multiple-template-root': 'off',
    },
  },
)

import prettier from 'eslint-config-prettier/flat'
import vue from 'eslint-plugin-vue'
import typescript from 'typescript-eslint'
import vueParser from 'vue-eslint-parser'
import { nativeReads } from './lint/nativeReads.js'

export default typescript.config(
  { ignores: ['.nuxt/**', '.output/**', '.data/**', 'test-results/**', '**/migrations/**'] },
  ...typescript.configs.recommended,
  ...vue.configs['flat/recommended'],
  { files: ['**/*.vue'], languageOptions: { parser: vueParser, parserOptions: { parser: typescript.parser } } },
  prettier,
  {
    files: ['delivery/**/*.ts'],
    plugins: { vetch: { rules: { 'native-reads': nativeReads } } },
    languageOptions: { parserOptions: { project: 'delivery/tsconfig.json', tsconfigRootDir: import.meta.dirname } },
    rules: { 'vetch/native-reads': 'error' },
  },
  {
    rules: {
      eqeqeq: 'error',
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { ignoreRestSiblings: true }],
      'vue/multi-word-component-names': 'off',
      'vue/require-default-prop': 'off',
      'vue/no-multiple-template-root': 'off',
    },
  },
)

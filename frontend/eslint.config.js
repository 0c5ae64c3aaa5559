import pluginVue from 'eslint-plugin-vue'
import tseslint from 'typescript-eslint'
import parser from 'vue-eslint-parser'

export default tseslint.config(
  { ignores: ['**/*.gen.ts'] },
  ...tseslint.configs.strict,
  ...pluginVue.configs['flat/recommended'],
  {
    files: ['**/*.vue', '**/*.ts'],
    languageOptions: { parser, parserOptions: { parser: tseslint.parser } },
    rules: {
      // Layout of markup is left to the author; these rules only move line breaks about.
      'vue/max-attributes-per-line': 'off',
      'vue/singleline-html-element-content-newline': 'off',
      'vue/html-self-closing': 'off',
      'vue/html-indent': 'off',
      'vue/html-closing-bracket-newline': 'off',
      'vue/multiline-html-element-content-newline': 'off',
      'vue/first-attribute-linebreak': 'off',
      'vue/attributes-order': 'off',
      '@typescript-eslint/no-non-null-assertion': 'error',
    },
  },
)

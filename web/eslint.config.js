import pluginVue from 'eslint-plugin-vue'
import a11y from 'eslint-plugin-vuejs-accessibility'
import ts from 'typescript-eslint'

export default ts.config(
  { ignores: ['dist/', 'src/api/*.gen.ts'] },
  ...ts.configs.recommended,
  ...pluginVue.configs['flat/recommended'],
  ...a11y.configs['flat/recommended'],
  { files: ['**/*.vue'], languageOptions: { parserOptions: { parser: ts.parser } } },
  {
    rules: {
      // Layout is prettier's.
      'vue/max-attributes-per-line': 'off',
      'vue/singleline-html-element-content-newline': 'off',
      'vue/multiline-html-element-content-newline': 'off',
      'vue/html-self-closing': 'off',
      'vue/html-indent': 'off',
      'vue/html-closing-bracket-newline': 'off',
      'vue/multi-word-component-names': 'error',
      'vue/no-v-html': 'error',
      '@typescript-eslint/no-explicit-any': 'error',
      // Labels stand beside their field or around it.
      'vuejs-accessibility/label-has-for': ['error', { required: { some: ['nesting', 'id'] } }],
      // A click on a row selects it; the fields and links inside do the same when the keyboard reaches them.
      'vuejs-accessibility/no-static-element-interactions': 'off',
      'vuejs-accessibility/click-events-have-key-events': 'off',
      // All network access is in src/api.
      'no-restricted-globals': [
        'error',
        { name: 'fetch', message: 'Use src/api.' },
        { name: 'EventSource', message: 'Use src/api.' },
      ],
    },
  },
  { files: ['src/api/**'], rules: { 'no-restricted-globals': 'off' } },
)

import prettier from 'eslint-config-prettier'
import vue from 'eslint-plugin-vue'
import typescript from 'typescript-eslint'

/** Which rooms a room may not look into: the frame not into the sheets, a sheet not into another, the parts into neither. */
const rooms = ['approve', 'bill', 'clock', 'costs', 'door', 'jobs', 'setup', 'time', 'today']
const notFrom = (files, ...group) => ({
  files,
  rules: {
    'no-restricted-imports': ['error', { patterns: [{ group, message: 'see docs/architecture.md, the front end' }] }],
  },
})

export default typescript.config(
  { ignores: ['src/api/schema.gen.ts'] },
  ...typescript.configs.recommended,
  ...vue.configs['flat/recommended'],
  {
    languageOptions: {
      parserOptions: {
        project: './tsconfig.json',
        tsconfigRootDir: import.meta.dirname,
        extraFileExtensions: ['.vue'],
      },
    },
    rules: {
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: false }],
    },
  },
  {
    files: ['**/*.vue'],
    languageOptions: { parserOptions: { parser: typescript.parser } },
    rules: { 'vue/multi-word-component-names': 'off' },
  },
  // Where a part is a function its props have their types from TypeScript.
  { files: ['**/*.ts'], rules: { 'vue/require-prop-types': 'off' } },
  notFrom(['src/api/**'], '@/book/*', '@/parts/*', '@/shell/*', '@/sheets/*', '@/router'),
  notFrom(['src/book/**'], '@/shell/*', '@/sheets/*', '@/router', '@/parts/*.vue'),
  notFrom(['src/parts/**'], '@/shell/*', '@/sheets/*', '@/router'),
  notFrom(['src/shell/**'], '@/sheets/*'),
  ...rooms.map((room) =>
    notFrom([`src/sheets/${room}/**`], '@/shell/*', ...rooms.filter((r) => r !== room).map((r) => `@/sheets/${r}/*`)),
  ),
  prettier,
)

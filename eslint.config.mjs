import js from '@eslint/js'
import prettier from 'eslint-config-prettier/flat'
import vue from 'eslint-plugin-vue'
import globals from 'globals'
import tseslint from 'typescript-eslint'
import vueParser from 'vue-eslint-parser'

/** Dependencies point one way: core knows nobody, and nobody reaches into another package's
 *  inside. */
const boundaries = (...forbidden) => ({
  'no-restricted-imports': [
    'error',
    {
      patterns: [
        // What a package exports beside its index: frames of protocols, and real sockets.
        {
          regex: '^@kataxis/[a-z]+/(?!wire/[a-z-]+$|sockets$).+',
          message: 'Import from the package’s index.',
        },
        ...forbidden,
      ],
    },
  ],
})
const packages = (regex) => ({
  regex,
  message: 'This package may not know that one; see ARCHITECTURE.md.',
})

export default tseslint.config(
  {
    ignores: [
      '**/dist/',
      '**/node_modules/',
      '.kataxis*/',
      'test-results/',
      'playwright-report/',
      'server/db/migrations/',
    ],
  },
  js.configs.recommended,
  ...tseslint.configs.strict,
  ...tseslint.configs.stylistic,
  ...vue.configs['flat/recommended'],
  // Prettier decides how code is set.
  prettier,
  {
    languageOptions: { globals: { ...globals.node, ...globals.browser } },
    rules: {
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_' },
      ],
      '@typescript-eslint/consistent-type-definitions': 'off',
      '@typescript-eslint/unified-signatures': 'off',
      // Tables are records by id; rows leave them.
      '@typescript-eslint/no-dynamic-delete': 'off',
      'vue/multi-word-component-names': 'off',
      'vue/attributes-order': 'off',
    },
  },
  {
    files: ['**/*.vue'],
    languageOptions: {
      parser: vueParser,
      parserOptions: { parser: tseslint.parser, sourceType: 'module' },
    },
  },
  {
    files: ['core/**/*.ts'],
    ignores: ['**/*.test.ts', 'core/test/**'],
    rules: boundaries(
      packages('^@kataxis/'),
      packages('^node:'),
      packages('^(vue|express|drizzle-orm|pg)'),
    ),
  },
  {
    files: ['pdf/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: boundaries(
      packages('^@kataxis/(server|web|cli|standins)'),
      packages('^(\\.\\./)+(core|standins|server|web|cli)/'),
    ),
  },
  {
    files: ['standins/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: boundaries(packages('^@kataxis/(server|web|cli|pdf)'), packages('^\\.\\./core')),
  },
  {
    files: ['server/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: boundaries(
      packages('^@kataxis/(web|cli)'),
      packages('^(\\.\\./)+(core|standins|web|cli)/'),
    ),
  },
  {
    files: ['web/**/*.{ts,vue}'],
    ignores: ['**/*.test.ts'],
    rules: boundaries(
      packages('^@kataxis/(server|cli|standins|pdf)'),
      packages('^(\\.\\./)+(core|standins|server|cli)/'),
    ),
  },
  {
    files: ['cli/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: boundaries(
      packages('^@kataxis/(server|web)'),
      packages('^(\\.\\./)+(core|standins|server|web)/'),
    ),
  },
)

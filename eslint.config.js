import js from '@eslint/js'
import prettier from 'eslint-config-prettier'
import vue from 'eslint-plugin-vue'
import globals from 'globals'
import ts from 'typescript-eslint'

/**
 * The folders of the core in the order of the one-way street: each imports only from those before it. `index.ts`, the
 * core's door, stands at the end.
 */
const STATIONS = [
  'errors',
  'quantity',
  'numeric',
  'specification',
  'approximation',
  'circuit',
  'synthesis',
  'analysis',
  'measure',
  'recognise',
  'verdict',
  'choose',
  'fit',
  'format',
]

/** Tests may look anywhere in the core. */
const oneWayStreet = STATIONS.map((station, k) => ({
  files: [`packages/core/src/${station}/**/*.ts`],
  ignores: ['**/*.test.ts'],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: [
          {
            regex: `^(\\.\\./)+(${[...STATIONS.slice(k + 1), 'index'].join('|')})[./]`,
            message: `${station}/ stands before this folder on the one-way street (see docs/architecture.md).`,
          },
          { regex: '^(node:|vue|pinia|express|@voskel)', message: 'The core knows no runtime and no neighbour.' },
        ],
      },
    ],
    'no-restricted-globals': ['error', 'window', 'document', 'process', 'Buffer', 'fetch', 'localStorage'],
  },
}))

/** What no line of the command line, the server or the interface imports. */
const NEIGHBOURS = (name) => [
  {
    regex: `(@voskel/|packages/)(${['cli', 'server', 'web'].filter((n) => n !== name).join('|')})`,
    message: 'Command line, server and interface do not know each other.',
  },
  { regex: '@voskel/core/.+', message: 'The core has one door: import from "@voskel/core".' },
]

/** The folders of the interface in the order of its own street; what stands beside them, at its end, holds them together. */
const WEB_STATIONS = [
  'api',
  'document',
  'engine',
  'components',
  'diagram',
  'circuit',
  'stores',
  'stages',
  'ledger',
  'frame',
  'pages',
]

const webStreet = WEB_STATIONS.map((station, k) => ({
  files: [`packages/web/src/${station}/**/*.{ts,vue}`],
  ignores: ['**/*.test.ts'],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: [
          ...(k + 1 < WEB_STATIONS.length
            ? [
                {
                  regex: `^(\\.\\./)+(${WEB_STATIONS.slice(k + 1).join('|')})(/|$)`,
                  message: `${station}/ stands before this folder on the interface's street (see docs/architecture.md).`,
                },
              ]
            : []),
          ...(['api', 'document', 'engine'].includes(station)
            ? [{ regex: '^(vue|pinia|element-plus)', message: 'What has states is a plain machine; stores hold it.' }]
            : []),
          ...NEIGHBOURS('web'),
        ],
      },
    ],
  },
}))

const neighbours = ['cli', 'server', 'web'].map((name) => ({
  files: [`packages/${name}/src/**/*.{ts,vue}`],
  rules: { 'no-restricted-imports': ['error', { patterns: NEIGHBOURS(name) }] },
}))

export default ts.config(
  { ignores: ['**/dist/', '**/dist-test/', '**/.cache/', 'docs/', '**/test-results/', '**/playwright-report/'] },
  js.configs.recommended,
  ...ts.configs.recommended,
  ...vue.configs['flat/recommended'],
  {
    files: ['**/*.vue'],
    languageOptions: { parserOptions: { parser: ts.parser }, globals: globals.browser },
  },
  { files: ['packages/web/src/**/*.ts', 'e2e/**/*.ts'], languageOptions: { globals: globals.browser } },
  { files: ['**/*.mjs', '**/*.js', 'bench/**'], languageOptions: { globals: globals.node } },
  {
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      'no-console': 'error',
      'vue/multi-word-component-names': 'off',
      'vue/require-default-prop': 'off',
    },
  },
  { files: ['scripts/**', 'bench/**', 'packages/web/src/App.vue'], rules: { 'no-console': 'off' } },
  ...oneWayStreet,
  ...neighbours,
  ...webStreet,
  prettier,
)

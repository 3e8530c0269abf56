import { defineConfigWithVueTs, vueTsConfigs } from '@vue/eslint-config-typescript'
import prettier from 'eslint-config-prettier'
import pluginVue from 'eslint-plugin-vue'
import accessibility from 'eslint-plugin-vuejs-accessibility'

/** What is the same in every language. */
const SIGNS = '▲▽≈✓·×±°%–—…:;,.()[]{}+-=/?“”§µμ→←↑↓0'
const UNITS = ['°C', 'mm', 'in', 'thou', 'µm', 'N·m', 'kN', 'K', 'T', 'U', 'h']

export default defineConfigWithVueTs(
  { ignores: ['dist/**', 'src/api/schema.d.ts'] },
  pluginVue.configs['flat/recommended'],
  accessibility.configs['flat/recommended'],
  vueTsConfigs.recommended,
  prettier,
  {
    rules: {
      // Fields of forms are wrapped by their label; one of nesting or an id is enough.
      'vuejs-accessibility/label-has-for': [
        'error',
        { controlComponents: ['KeptField'], required: { some: ['nesting', 'id'] } },
      ],
      'max-len': ['error', { code: 120 }],
      // Texts are in the catalog (texts/), by language; signs and units are the same in each.
      'vue/no-bare-strings-in-template': [
        'error',
        {
          allowlist: [...SIGNS, ...UNITS, 'Rigore'],
          attributes: { '/.+/': ['title', 'aria-label', 'aria-placeholder', 'alt', 'label', 'action'] },
        },
      ],
    },
  },
)

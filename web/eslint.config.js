import { defineConfigWithVueTs, vueTsConfigs } from '@vue/eslint-config-typescript'
import prettier from 'eslint-config-prettier'
import pluginVue from 'eslint-plugin-vue'
import accessibility from 'eslint-plugin-vuejs-accessibility'

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
    },
  },
)

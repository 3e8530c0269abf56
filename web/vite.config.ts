import { brotliCompressSync } from 'node:zlib'
import tailwindcss from '@tailwindcss/vite'
import vue from '@vitejs/plugin-vue'
import { defineConfig, type Plugin } from 'vite'

// Scripts and styles are compressed once, as far as it goes, and not with every answer.
const compressed: Plugin = {
  name: 'compressed',
  apply: 'build',
  generateBundle: {
    order: 'post',
    handler(_, bundle) {
      for (const file of Object.values(bundle)) {
        if (!/\.(js|css)$/.test(file.fileName)) continue
        const source = brotliCompressSync(file.type === 'chunk' ? file.code : file.source)
        this.emitFile({ type: 'asset', fileName: `${file.fileName}.br`, source })
      }
    },
  },
}

// While developing, `rigore demo --port 8097` answers the API.
export default defineConfig({
  plugins: [
    // A line break between two elements is a space, as the formatter takes it to be.
    vue({ features: { optionsAPI: false }, template: { compilerOptions: { whitespace: 'preserve' } } }),
    tailwindcss(),
    compressed,
  ],
  server: { proxy: { '/api': 'http://127.0.0.1:8097' }, fs: { allow: ['..'] } },
})

import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vite'

export default defineConfig({
  plugins: [
    vue({ template: { compilerOptions: { isCustomElement: (tag) => tag.startsWith('revo-') } } }),
  ],
  build: { chunkSizeWarningLimit: 1500, manifest: true },
  server: { proxy: { '/api': 'http://127.0.0.1:4600' } },
})

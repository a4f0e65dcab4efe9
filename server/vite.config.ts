import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vite'

const here = (name: string) => fileURLToPath(new URL(name, import.meta.url))

/** The server as plain JavaScript: the program and its threads. Packages of the registry stay
 *  outside. */
export default defineConfig({
  root: here('.'),
  build: {
    ssr: true,
    outDir: 'dist',
    emptyOutDir: true,
    target: 'node20',
    minify: false,
    sourcemap: true,
    rollupOptions: {
      input: {
        main: here('main.ts'),
        engine: here('engine/engine.ts'),
        reader: here('reading/reader.ts'),
        'job-thread': here('jobs/job-thread.ts'),
      },
      output: { entryFileNames: '[name].js', chunkFileNames: 'parts/[name]-[hash].js' },
    },
  },
  ssr: { noExternal: [/^@kataxis\//] },
})

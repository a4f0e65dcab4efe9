import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vite'

const here = (name: string) => fileURLToPath(new URL(name, import.meta.url))

/** The command line as plain JavaScript with all that it uses, so that it starts at once; what only
 *  one command needs is a part of its own. */
export default defineConfig({
  root: here('.'),
  build: {
    ssr: true,
    emptyOutDir: true,
    target: 'node20',
    minify: true,
    rollupOptions: {
      input: { main: here('main.ts'), schema: here('commands/schema.ts') },
      output: { entryFileNames: '[name].js', chunkFileNames: 'parts/[name]-[hash].js' },
    },
  },
  ssr: { noExternal: true, external: ['exceljs', 'pdfkit', 'fontkit', 'bidi-js'] },
})

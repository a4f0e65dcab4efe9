import { readFile } from 'node:fs/promises'
import { join, normalize } from 'node:path'
import express, { type Express } from 'express'
import { marked } from 'marked'
import { projectRoot } from '../paths'

const docs = join(projectRoot, 'docs')

/** The manual: pages of `docs/` as HTML under their own names, so that their links hold, and their
 *  pictures. */
export function mountManual(app: Express): void {
  app.use('/docs/screenshots', express.static(join(docs, 'screenshots'), { index: false }))
  app.get('/docs/{*page}', async (request, response, next) => {
    const parts: string | readonly string[] = request.params['page'] ?? ''
    const page = normalize([parts].flat().join('/'))
    if (!/^[\w-]+(\/[\w-]+)*\.md$/.test(page)) return next()
    const text = await readFile(join(docs, page), 'utf8').catch(() => null)
    if (text === null) return next()
    response.type('html').send(pageOf(text, await marked.parse(text)))
  })
}

const pageOf = (text: string, body: string) => `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width">
<title>${(/^# (.+)$/m.exec(text)?.[1] ?? 'Manual').replace(/[<>&"]/g, '')} · Kataxis</title>
<style>
body { max-width: 46rem; margin: 2rem auto; padding: 0 1rem; font: 16px/1.55 system-ui, sans-serif; color: #1b2130; background: #faf7f1; }
img { max-width: 100%; border: 1px solid #d3cabb; }
a { color: #bb2d16; }
table { border-collapse: collapse; }
th, td { text-align: left; vertical-align: top; padding: 4px 12px 4px 0; border-bottom: 1px solid #e4ddd0; }
code { font-size: 0.9em; }
pre { overflow: auto; background: #f1ece3; padding: 10px; }
</style>
</head>
<body>
<nav><a href="/docs/using.md">The manual</a></nav>
${body}
</body>
</html>
`

// While the program itself is still being fetched and compiled, the plan that it is going to show is
// on its way already; `web/api/early.ts` takes it over. What does not arrive is asked for again.
{
  const [, project] = /^\/p\/([^/]+)/.exec(location.pathname) ?? []
  const url = `/api/projects/${project}/packed`
  const read = async () => {
    const response = await fetch(url, { signal: AbortSignal.timeout(60_000) })
    if (!response.ok) return null
    const text = await response.text()
    return { text, answer: JSON.parse(text) }
  }
  if (project) globalThis.kataxisEarly = { url, arrived: read().catch(() => null) }
}

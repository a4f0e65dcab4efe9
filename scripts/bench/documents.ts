import { derive, writeExport } from '@kataxis/core'
import { documentFonts, drawPdf } from '@kataxis/pdf'
import { largePlan } from '../../demo/large-plan'

/** Stations of 256 channels each: 50,000 rows. */
const stationCount = 196

/** Seconds that the I/O list of 50,000 rows takes as PDF, and how much memory it takes at most, MB. */
export async function measureDocument(): Promise<{ seconds: number; megabytes: number }> {
  const large = largePlan(stationCount)
  const derived = derive(large.plan, large.catalog)
  let most = 0
  const look = () => (most = Math.max(most, process.memoryUsage().rss))
  const start = performance.now()
  await writeExport('io-list-pdf', {
    derived,
    revision: 1,
    blockers: 0,
    files: [],
    loadFile: () => Promise.resolve(null),
    draw: (make, { at }) => {
      const document = make(documentFonts().measure)
      return drawPdf(document, { title: document.title, at }, look)
    },
  })
  look()
  return { seconds: (performance.now() - start) / 1000, megabytes: most / 2 ** 20 }
}

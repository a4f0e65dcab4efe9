/** As the controller sees it. */
export type Direction = 'in' | 'out'

/** What a block carries, so that an image can keep kinds of data apart. */
export const dataContents = ['digital', 'analog', 'safety'] as const
export type DataContent = (typeof dataContents)[number]

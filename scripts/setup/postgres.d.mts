export function startPostgres(home: string): Promise<{ url: string; stop: () => void }>
export function removePostgres(home: string): void

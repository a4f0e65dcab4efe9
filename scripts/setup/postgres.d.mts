export function startPostgres(home: string): Promise<{ url: string; stop: () => void }>

export function isFree(port: number): Promise<boolean>
export function nextFree(port: number): Promise<number | null>

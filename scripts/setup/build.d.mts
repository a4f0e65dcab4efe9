export function ensureWebBuild(): void
export function ensureServerBuild(): void

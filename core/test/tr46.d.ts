declare module 'tr46' {
  export function toASCII(domain: string): string | null
}

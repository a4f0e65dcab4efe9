/** The few things that browsers, workers and Node all have and that are no part of ECMAScript. */
declare class TextDecoder {
  constructor(encoding?: string, options?: { fatal?: boolean })
  decode(bytes?: Uint8Array): string
}
declare class TextEncoder {
  encodeInto(text: string, into: Uint8Array): { readonly read: number; readonly written: number }
  encode(text?: string): Uint8Array<ArrayBuffer>
}
declare const crypto: { getRandomValues<T extends ArrayBufferView>(array: T): T }

declare module 'punycode/punycode.es6.js' {
  const punycode: { toASCII(name: string): string; toUnicode(name: string): string }
  export default punycode
}

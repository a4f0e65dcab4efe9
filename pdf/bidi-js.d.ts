declare module 'bidi-js' {
  interface Bidi {
    getEmbeddingLevels(
      text: string,
      direction?: 'ltr' | 'rtl' | 'auto',
    ): { readonly levels: Uint8Array }
  }
  export default function bidiFactory(): Bidi
}

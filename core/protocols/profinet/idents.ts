/** Ident numbers as they are compared: eight hex digits, four for makers and types. */
export const hexIdent = (ident: number) => ident.toString(16).padStart(8, '0')
export const hexWord = (value: number) => value.toString(16).padStart(4, '0')

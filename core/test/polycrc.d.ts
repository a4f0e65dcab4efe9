declare module 'polycrc' {
  const polycrc: {
    crc(
      width: number,
      poly: number,
      xorIn: number,
      xorOut: number,
      reflect: boolean,
    ): (data: string | Buffer) => number
  }
  export default polycrc
}

declare module 'wawoff2' {
  /** WOFF2 to TTF or OTF. @throws where it is not one. */
  export function decompress(file: Uint8Array): Promise<Uint8Array>;
}

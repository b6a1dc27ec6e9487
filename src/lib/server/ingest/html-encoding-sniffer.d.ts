declare module 'html-encoding-sniffer' {
  /** The name of the encoding that bytes are in (HTML §13.2.3.2), or `defaultEncoding`. */
  export default function sniff(bytes: Uint8Array, options?: { defaultEncoding?: string }): string;
}

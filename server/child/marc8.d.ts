declare module 'marc8' {
  /** Letters of MARC-8 as Unicode. */
  export default function marc8(bytes: Uint8Array, options?: { replace?: string; invalid?: 'replace' }): string
}

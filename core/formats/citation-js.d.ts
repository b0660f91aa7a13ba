declare module '@citation-js/core' {
  export const plugins: {
    config: { get(name: string): unknown }
    input: { chain(data: unknown, options: { forceType?: string; generateGraph: boolean }): unknown[] }
  }
}
declare module '@citation-js/plugin-bibtex'
declare module '@citation-js/plugin-ris'

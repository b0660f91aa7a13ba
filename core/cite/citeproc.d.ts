declare module 'citeproc' {
  export interface Sys {
    retrieveLocale(lang: string): string
    retrieveItem(id: string): unknown
  }
  export class Engine {
    constructor(sys: Sys, style: string, lang?: string, force?: boolean)
    updateItems(ids: string[]): void
    /** All items, or those alone that fit one of these. */
    makeBibliography(filter?: {
      include: { field: 'id'; value: string }[]
    }): [{ entry_ids: string[][]; hangingindent?: number; 'second-field-align'?: string | boolean }, string[]] | false
    bibliography: { opt: { 'subsequent-author-substitute'?: string; 'subsequent-author-substitute-rule'?: string } }
    makeCitationCluster(
      items: { id: string; locator?: string; label?: string; 'author-only'?: boolean; 'suppress-author'?: boolean }[],
    ): string
    setOutputFormat(format: string): void
  }
  const CSL: { Engine: typeof Engine }
  export default CSL
}

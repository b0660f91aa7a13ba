export interface Format {
  key: string
  name: string
  ending: string
  type: string
  /** What of the bibliography it cannot carry, in words; nothing where it carries all. */
  loses?: string
}

/** Files in which a bibliography is handed in. */
export const DOCUMENTS = [
  { key: 'pdf', name: 'PDF', ending: 'pdf', type: 'application/pdf' },
  {
    key: 'docx',
    name: 'Word processor, .docx',
    ending: 'docx',
    type: 'application/vnd.openxmlformats-officedocument.wordprocessingml.document',
  },
  { key: 'html', name: 'Web page', ending: 'html', type: 'text/html; charset=utf-8' },
  {
    key: 'latex',
    name: 'LaTeX, with its .bib',
    ending: 'zip',
    type: 'application/zip',
    loses: 'Scripts beyond Latin, unless LuaLaTeX or XeLaTeX sets it in a font that has them.',
  },
  {
    key: 'markdown',
    name: 'Markdown',
    ending: 'md',
    type: 'text/markdown; charset=utf-8',
    loses: 'Small capitals, underlining, raised letters, hanging indents, size of the page.',
  },
  {
    key: 'text',
    name: 'Plain text',
    ending: 'txt',
    type: 'text/plain; charset=utf-8',
    loses: 'All emphasis, links, hanging indents, size of the page.',
  },
  {
    key: 'bundle',
    name: 'Everything, .zip',
    ending: 'zip',
    type: 'application/zip',
  },
] as const satisfies readonly Format[]

/** Files of citations alone, for other programs. */
export const CITATIONS = [
  {
    key: 'bibtex',
    name: 'BibTeX',
    ending: 'bib',
    type: 'application/x-bibtex; charset=utf-8',
  },
  { key: 'ris', name: 'RIS', ending: 'ris', type: 'application/x-research-info-systems; charset=utf-8' },
  { key: 'mods', name: 'MODS', ending: 'xml', type: 'application/mods+xml; charset=utf-8' },
  {
    key: 'csl',
    name: 'CSL-JSON',
    ending: 'json',
    type: 'application/vnd.citationstyles.csl+json; charset=utf-8',
  },
] as const satisfies readonly Format[]

export type DocumentFormat = (typeof DOCUMENTS)[number]['key']
export type CitationFormat = (typeof CITATIONS)[number]['key']
export const DOCUMENT_KEYS = DOCUMENTS.map(f => f.key)
/** Documents that are one file. */
export const SINGLE_KEYS = DOCUMENT_KEYS.filter(k => k !== 'bundle')
export const CITATION_KEYS = CITATIONS.map(f => f.key)
export const formatOf = (key: DocumentFormat | CitationFormat): Format =>
  [...DOCUMENTS, ...CITATIONS].find(f => f.key === key)!

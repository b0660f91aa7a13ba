/** The citation styles that are asked for most, with the short names that they are known by; ids are those of the CSL style files. */
export const STYLES = [
  { id: 'apa', name: 'APA, 7th edition' },
  { id: 'modern-language-association', name: 'MLA, 9th edition' },
  { id: 'chicago-author-date', name: 'Chicago, author-date' },
  { id: 'harvard-cite-them-right', name: 'Harvard' },
  { id: 'ieee', name: 'IEEE' },
  { id: 'vancouver', name: 'Vancouver' },
  { id: 'council-of-science-editors-author-date', name: 'CSE, author-date' },
] as const

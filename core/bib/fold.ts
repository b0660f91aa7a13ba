const letters: Record<string, string> = {
  ß: 'ss',
  æ: 'ae',
  œ: 'oe',
  ø: 'o',
  đ: 'd',
  ð: 'd',
  ł: 'l',
  þ: 'th',
  ı: 'i',
  ħ: 'h',
  ŋ: 'n',
}

/** Folds case, width and diacritics: "Ångström" and "angstrom" become the same. */
export function fold(text: string): string {
  // plain ASCII has nothing to decompose
  // eslint-disable-next-line no-control-regex
  if (/^[\x00-\x7f]*$/.test(text)) return text.toLowerCase()
  return text
    .normalize('NFKD')
    .replace(/\p{M}+/gu, '')
    .toLowerCase()
    .normalize('NFKD')
    .replace(/\p{M}+/gu, '')
    .replace(/[ßæœøđðłþıħŋ]/g, c => letters[c]!)
}

/** A title's normal form for comparing: folded, markup and punctuation gone, single spaces, no leading article. */
export function foldTitle(title: string): string {
  // soft hyphens and joiners are no letters and part no words
  return fold(title.replace(/<[^>]{1,40}>|[\u00ad\u200b-\u200d\u2060\ufeff]/g, ''))
    .replace(/&(amp;)?/g, ' and ')
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim()
    .replace(/^(the|an?) (?=\S)/, '')
}

/**
 * A text without line ends: each stands with the white space around it for one space.
 * @example inOneLine('a \n  b') // 'a b'
 */
export const inOneLine = (text: string): string =>
  text.replace(/\s+/g, run => (/[\n\r\u2028\u2029]/.test(run) ? ' ' : run))

const LANGUAGES: Record<string, string> = { en: 'English', de: 'German', fr: 'French', es: 'Spanish', it: 'Italian', pt: 'Portuguese', nl: 'Dutch', sv: 'Swedish', ja: 'Japanese', zh: 'Chinese', ru: 'Russian' } // prettier-ignore

const NAMES = new Intl.DisplayNames('en', { type: 'language', fallback: 'code' })

/** The English name of a language code (ISO 639), or the code where it is not known. */
export const sayLanguage = (code: string): string => {
  if (LANGUAGES[code]) return LANGUAGES[code]
  try {
    return NAMES.of(code) ?? code
  } catch {
    // a catalogue's own sign for a language is no code
    return code
  }
}

/** Codes whose names are known, as they are offered. */
export const LANGUAGE_CODES = Object.keys(LANGUAGES)

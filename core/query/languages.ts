const NAMES = new Intl.DisplayNames('en', { type: 'language', fallback: 'code' })

/** The English name of a language code (ISO 639), or the code where it is not known. */
export function sayLanguage(code: string): string {
  try {
    return NAMES.of(code) ?? code
  } catch {
    // a catalogue's own sign for a language is no code
    return code
  }
}

/** Languages that a brief offers. */
export const LANGUAGE_CODES = ['en', 'de', 'fr', 'es', 'it', 'pt', 'nl', 'sv', 'ja', 'zh', 'ru']

const LANGUAGES: Record<string, string> = { en: 'English', de: 'German', fr: 'French', es: 'Spanish', it: 'Italian', pt: 'Portuguese', nl: 'Dutch', sv: 'Swedish', ja: 'Japanese', zh: 'Chinese', ru: 'Russian' } // prettier-ignore

/** The English name of a language code (ISO 639-1), or the code where it is not known. */
export const sayLanguage = (code: string): string => LANGUAGES[code] ?? code

/** Codes whose names are known, as they are offered. */
export const LANGUAGE_CODES = Object.keys(LANGUAGES)

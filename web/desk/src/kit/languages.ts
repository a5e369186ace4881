const NAMES = new Intl.DisplayNames(['en'], { type: 'language' });

/** Languages in which the built-in words are supplied. */
export const LANGUAGES = ['en', 'de', 'fr', 'es', 'nl', 'it', 'pt', 'ja', 'ar'];

/** "German" for "de"; the tag itself where nobody knows it. */
export function languageName(tag: string): string {
  try {
    return NAMES.of(tag) ?? tag;
  } catch {
    return tag;
  }
}

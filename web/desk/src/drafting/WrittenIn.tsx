import { LANGUAGES, languageName } from '../kit/languages';
import { useDesk } from '../session/desk';

/** In which language words are written; empty for the site's own. */
export function WrittenIn({
  language,
  languages,
  missing,
  onLanguage,
}: {
  language: string;
  /** Those in which there is something. */
  languages: readonly string[];
  /** How much is not there yet in a language. */
  missing(language: string): number;
  onLanguage(language: string): void;
}) {
  const { site } = useDesk();
  return (
    <label className="flex items-center gap-2">
      <span className="text-soft">written in</span>
      <select value={language} onChange={(e) => onLanguage(e.currentTarget.value)}>
        <option value="">{languageName(site.language)}</option>
        {languages.map((l) => (
          <option key={l} value={l}>
            {languageName(l)}
            {missing(l) > 0 && `, ${missing(l)} missing`}
          </option>
        ))}
        <optgroup label="Another">
          {LANGUAGES.filter((l) => l !== site.language && !languages.includes(l)).map((l) => (
            <option key={l} value={l}>
              {languageName(l)}
            </option>
          ))}
        </optgroup>
      </select>
    </label>
  );
}

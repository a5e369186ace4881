import { useState } from 'react';
import type { Schema } from '../data/api';
import { Button } from '../kit/Button';
import { SelectField, TextField } from '../kit/Field';
import { LANGUAGES, languageName } from '../kit/languages';
import { useDesk } from '../session/desk';

type Tone = Schema<'Tone'>;

/** How readers are spoken to, one line for a language; it stands beside the words while they are written. */
export function TonesEditor({ tones, onTones }: { tones: readonly Tone[]; onTones(tones: Tone[]): void }) {
  const { site } = useDesk();
  const [language, setLanguage] = useState('');
  const rest = LANGUAGES.filter((l) => !tones.some((t) => t.language === l));
  const next = language && rest.includes(language) ? language : (rest.find((l) => l === site.language) ?? rest[0] ?? '');
  return (
    <div className="grid gap-2" role="group" aria-label="How readers are spoken to">
      <b className="font-semibold">How readers are spoken to</b>
      <span className="text-[12px] leading-4 text-soft">
        Form of address and manner; it stands beside the words while they are written.
      </span>
      {tones.map((tone, i) => (
        <div key={tone.language} className="flex items-end gap-2">
          <div className="min-w-0 flex-1">
            <TextField
              label={languageName(tone.language)}
              placeholder="“du”, friendly, no exclamation marks"
              value={tone.words}
              maxLength={120}
              onText={(words) => onTones(tones.map((t, j) => (i === j ? { ...t, words } : t)))}
            />
          </div>
          <Button
            kind="link"
            aria-label={`Take ${languageName(tone.language)} out`}
            onClick={() => onTones(tones.filter((t) => t.language !== tone.language))}
          >
            Take out
          </Button>
        </div>
      ))}
      {next && (
        <span className="flex items-end gap-2">
          <SelectField label="A language" value={next} choices={rest.map((l) => [l, languageName(l)] as const)} onChoose={setLanguage} />
          <Button onClick={() => onTones([...tones, { language: next, words: '' }])}>Add it</Button>
        </span>
      )}
    </div>
  );
}

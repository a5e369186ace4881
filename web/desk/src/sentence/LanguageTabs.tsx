import { Plus, X } from 'lucide-react';
import { useState } from 'react';
import { Button } from '../kit/Button';
import { LANGUAGES, languageName } from '../kit/languages';

/** The languages of words that a visitor reads, as tabs that say what is missing; the site's own stands first. */
export function LanguageTabs({
  own,
  languages,
  missing,
  place,
  tone,
  onOpen,
  onAdd,
  onRemove,
}: {
  /** The site's own language. */
  own: string;
  /** Those besides, by BCP 47 tag. */
  languages: readonly string[];
  /** What one of them lacks, in words. */
  missing(place: number): string;
  place: number | undefined;
  /** How readers of a language are to be spoken to, where that is agreed on. */
  tone(language: string): string | undefined;
  onOpen(place: number | undefined): void;
  onAdd(language: string): void;
  onRemove(place: number): void;
}) {
  const [adding, setAdding] = useState(false);
  const offered = LANGUAGES.filter((l) => l !== own && !languages.includes(l));
  const open = place === undefined ? undefined : languages[place];
  return (
    <div className="grid gap-2">
      <div className="flex flex-wrap items-center gap-1" role="group" aria-label="Languages">
        <Tab pressed={place === undefined} onOpen={() => onOpen(undefined)}>
          {languageName(own)}
        </Tab>
        {languages.map((language, i) => (
          <Tab key={language} pressed={i === place} onOpen={() => onOpen(i)}>
            {languageName(language)}
            {missing(i) && (
              <span className="ms-1 text-[12px] font-normal text-warn" title={`Missing: ${missing(i)}`}>
                missing<span className="sr-only">: {missing(i)}</span>
              </span>
            )}
          </Tab>
        ))}
        <Button kind="link" aria-expanded={adding} onClick={() => setAdding(!adding)}>
          <Plus className="h-3.5 w-3.5" /> Add a language
        </Button>
        {open && (
          <button
            type="button"
            aria-label={`Remove ${languageName(open)}`}
            className="ms-auto inline-flex min-h-8 items-center gap-1 text-[12px] text-bad hover:underline"
            onClick={() => place !== undefined && onRemove(place)}
          >
            <X className="h-3.5 w-3.5" /> Remove {languageName(open)}
          </button>
        )}
      </div>
      {tone(open ?? own) && <p className="text-[12px] leading-4 text-soft">As your brand kit wants it: {tone(open ?? own)}</p>}
      {adding && (
        <LanguageChoice
          offered={offered}
          onChoose={(l) => {
            setAdding(false);
            onAdd(l);
          }}
        />
      )}
      {open && (
        <p className="text-[12px] leading-4 text-soft">
          Visitors who prefer {languageName(open)} read this; numbers, times and plural forms follow it by themselves.
        </p>
      )}
    </div>
  );
}

const TAG = /^[a-z]{2,3}(-[a-z0-9]{2,8})*$/i;

function LanguageChoice({ offered, onChoose }: { offered: readonly string[]; onChoose(language: string): void }) {
  const [typed, setTyped] = useState('');
  const wanted = typed.trim().toLowerCase();
  const fitting = offered.filter((l) => languageName(l).toLowerCase().includes(wanted) || l.toLowerCase().startsWith(wanted));
  const asTag = TAG.test(typed.trim()) && !fitting.includes(typed.trim()) ? typed.trim() : undefined;
  return (
    <div className="grid gap-1 rounded border border-hair bg-sheet2 p-2">
      <input
        // biome-ignore lint/a11y/noAutofocus: asked for by the person, who goes on typing here.
        autoFocus
        aria-label="Which language"
        placeholder="Which language? Portuguese, or a tag such as pt-BR"
        value={typed}
        onChange={(e) => setTyped(e.currentTarget.value)}
        onKeyDown={(e) => {
          if (e.key !== 'Enter') return;
          e.preventDefault();
          const first = asTag ?? fitting[0];
          if (first) onChoose(first);
        }}
      />
      <div className="flex max-h-24 flex-wrap gap-1 overflow-auto">
        {[...(asTag ? [asTag] : []), ...fitting].map((l) => (
          <button
            key={l}
            type="button"
            className="min-h-7 rounded border border-edge bg-sheet px-2 hover:bg-say"
            onClick={() => onChoose(l)}
          >
            {languageName(l)}
          </button>
        ))}
      </div>
    </div>
  );
}

function Tab({ pressed, onOpen, children }: { pressed: boolean; onOpen(): void; children: React.ReactNode }) {
  return (
    <button
      type="button"
      aria-pressed={pressed}
      onClick={onOpen}
      className={`min-h-8 rounded border px-2 font-semibold ${pressed ? 'border-ink bg-ink text-white [&_span]:text-[#ffd27a]' : 'border-edge bg-sheet hover:bg-sheet2'}`}
    >
      {children}
    </button>
  );
}

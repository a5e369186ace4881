import { useQuery } from '@tanstack/react-query';
import { useParams } from '@tanstack/react-router';
import { Plus, X } from 'lucide-react';
import { useState } from 'react';
import { type Brief, type Callout, calloutQuery } from '../callouts/api';
import { LANGUAGES, languageName } from '../lib/languages';
import { SentenceEditor } from '../sentence/SentenceEditor';
import { useDesk } from '../session/desk';
import { Button } from '../ui/Button';
import { TextField } from '../ui/Field';
import { Said } from '../ui/Said';
import { evidenceQuery } from './api';

type Say = Brief['say'];
type Translation = Say['translations'][number];

/** Real events that the words are read for, the one that reads longest among them. */
const READINGS = 3;

/** The evidence behind the draft as it was saved last, and what is to be known about its words. */
function useSaved() {
  const { site } = useDesk();
  const { calloutId } = useParams({ from: '/callouts/$calloutId' });
  const callout = useQuery(calloutQuery(site.id, calloutId));
  const version = callout.data?.draftVersion;
  const evidence = useQuery({ ...evidenceQuery(site.id, calloutId, version ?? 0), enabled: version !== undefined }).data;
  return { evidence, problems: callout.data?.problems ?? [] };
}

/** What is to be known about the words of one field; those of a translation begin with its language. */
function warningsOf(problems: readonly Callout['problems'][number][], field: string, language?: string) {
  const lead = language ? `${language}: ` : '';
  return problems
    .filter((p) => p.field === field && p.word && p.message.startsWith(lead))
    .map((p) => ({ word: p.word, says: p.message.slice(lead.length) }));
}

/** What is missing of a language, in words; empty when nothing is. */
export function missingIn(say: Say, translation: Translation): string {
  const missing = [
    !translation.message.trim() && 'the message',
    !!say.detail.trim() && !translation.detail.trim() && 'the line under it',
    !!say.button.trim() && !translation.button.trim() && 'the button',
  ].filter(Boolean);
  return missing.join(', ');
}

/** The words of a callout in each of its languages, written as they read; below them, how they read for real events. */
export function WordsEditor({
  say,
  tokens,
  startsWith,
  onChange,
}: {
  say: Say;
  tokens: readonly string[];
  /** Whether one came for the languages: then the first of them is open. */
  startsWith: 'own' | 'languages';
  onChange(change: Partial<Say>): void;
}) {
  const { site } = useDesk();
  const { evidence, problems } = useSaved();
  const examples = evidence?.examples ?? {};
  // A token that no real event fills would only leave a hole.
  const offered = Object.keys(examples).length > 0 ? tokens.filter((t) => examples[t]) : tokens;
  const { translations } = say;
  const [chosen, setChosen] = useState<number | undefined>(startsWith === 'languages' && translations.length > 0 ? 0 : undefined);
  const place = chosen !== undefined && chosen < translations.length ? chosen : undefined;
  const open = place === undefined ? undefined : translations[place];
  const language = open?.language ?? site.language;
  const put = (change: { message?: string; detail?: string; button?: string }) =>
    onChange(place === undefined ? change : { translations: translations.map((t, i) => (i === place ? { ...t, ...change } : t)) });
  const words = open ?? say;
  return (
    <div className="grid gap-3">
      <Languages
        say={say}
        own={site.language}
        place={place}
        onOpen={setChosen}
        onAdd={(added) => {
          // One that is there is opened, not begun a second time.
          const known = translations.findIndex((t) => t.language.toLowerCase() === added.toLowerCase());
          if (known >= 0 || added.toLowerCase() === site.language.toLowerCase()) return setChosen(known >= 0 ? known : undefined);
          onChange({ translations: [...translations, { language: added, message: say.message, detail: say.detail, button: say.button }] });
          setChosen(translations.length);
        }}
        onRemove={(gone) => {
          onChange({ translations: translations.filter((_, i) => i !== gone) });
          setChosen(undefined);
        }}
      />
      <SentenceEditor
        key={`message ${language}`}
        label="Message"
        isFirst
        warnings={warningsOf(problems, open ? 'say.translations' : 'say.message', open?.language)}
        value={words.message}
        language={language}
        tokens={offered}
        examples={examples}
        onChange={(message) => put({ message })}
      />
      <SentenceEditor
        key={`detail ${language}`}
        label="Line under it, if wanted"
        warnings={open ? undefined : warningsOf(problems, 'say.detail')}
        value={words.detail}
        language={language}
        tokens={offered}
        examples={examples}
        oneLine
        onChange={(detail) => put({ detail })}
      />
      {open && say.button.trim() && (
        <TextField label="Button" value={open.button} maxLength={40} dir="auto" onChange={(e) => put({ button: e.currentTarget.value })} />
      )}
      {place === undefined && evidence && <Readings evidence={evidence} />}
    </div>
  );
}

function Readings({ evidence }: { evidence: NonNullable<ReturnType<typeof useSaved>['evidence']> }) {
  if (evidence.says)
    return (
      <p className="border-s-2 border-say-deep ps-2">
        Reads now: <b>{evidence.says}</b>
      </p>
    );
  const length = (row: (typeof evidence.rows)[number]) => row.spans.reduce((sum, s) => sum + s.text.length, 0);
  const longest = [...evidence.rows].sort((a, b) => length(b) - length(a))[0];
  const rows = evidence.rows.filter((r) => r !== longest).slice(0, READINGS - (longest ? 1 : 0));
  if (!longest) return null;
  return (
    <section aria-label="How it reads for real events" className="border-s-2 border-say-deep ps-2" aria-live="polite">
      <h3 className="font-sans text-[12px] font-semibold tracking-normal text-soft">As it reads for real events</h3>
      <ul>
        {[...rows, longest].map((row) => (
          <li key={row.eventId} className="py-0.5">
            <Said spans={row.spans} />
            {row === longest && <span className="ms-2 text-[12px] text-soft">the longest: {length(row)} letters</span>}
          </li>
        ))}
      </ul>
    </section>
  );
}

function Languages({
  say,
  own,
  place,
  onOpen,
  onAdd,
  onRemove,
}: {
  say: Say;
  /** The site's own language. */
  own: string;
  place: number | undefined;
  onOpen(place: number | undefined): void;
  onAdd(language: string): void;
  onRemove(place: number): void;
}) {
  const [adding, setAdding] = useState(false);
  const offered = LANGUAGES.filter((l) => l !== own && !say.translations.some((t) => t.language === l));
  const open = place === undefined ? undefined : say.translations[place];
  return (
    <div className="grid gap-2">
      <div className="flex flex-wrap items-center gap-1" role="group" aria-label="Languages">
        <Tab pressed={place === undefined} onOpen={() => onOpen(undefined)}>
          {languageName(own)}
        </Tab>
        {say.translations.map((t, i) => (
          <Tab key={t.language} pressed={i === place} onOpen={() => onOpen(i)}>
            {languageName(t.language)}
            {missingIn(say, t) && (
              <span className="ms-1 text-[12px] font-normal text-warn" title={`Missing: ${missingIn(say, t)}`}>
                missing<span className="sr-only">: {missingIn(say, t)}</span>
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
            aria-label={`Remove ${languageName(open.language)}`}
            className="ms-auto inline-flex min-h-8 items-center gap-1 text-[12px] text-bad hover:underline"
            onClick={() => place !== undefined && onRemove(place)}
          >
            <X className="h-3.5 w-3.5" /> Remove {languageName(open.language)}
          </button>
        )}
      </div>
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
          Visitors who prefer {languageName(open.language)} read this; numbers, times and plural forms follow it by themselves.
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

import { useQuery } from '@tanstack/react-query';
import { useParams } from '@tanstack/react-router';
import { useState } from 'react';
import type { Brief, Callout } from '../brief/types';
import { calloutQuery } from '../callouts/api';
import { useTone } from '../catalogue/kit';
import { TextField } from '../kit/Field';
import { Said } from '../kit/Said';
import { LanguageTabs } from '../sentence/LanguageTabs';
import { SentenceEditor } from '../sentence/SentenceEditor';
import { useDesk } from '../session/desk';
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
  const tone = useTone();
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
      <LanguageTabs
        tone={tone}
        own={site.language}
        languages={translations.map((t) => t.language)}
        missing={(i) => (translations[i] ? missingIn(say, translations[i]) : '')}
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

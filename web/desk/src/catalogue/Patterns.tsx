import { Check, X } from 'lucide-react';
import { useId, useRef, useState } from 'react';
import type { Schema } from '../data/api';

/** Paths of the known pages, the busiest first. */
export const pathsOf = (match: Schema<'MatchView'> | undefined) => [...new Set((match?.pages ?? []).map((p) => p.path))].slice(0, 200);

/** The known pages that patterns mean, and those that an exception takes out. */
export function KnownPages({ match }: { match: Schema<'MatchView'> }) {
  const matching = match.pages.filter((p) => p.shown);
  const excluded = match.pages.filter((p) => !p.shown && p.decider);
  return (
    <div className="min-w-0">
      <p className="border-b border-ink pb-1">
        <b className="font-display text-[18px]">{match.shown}</b> of {match.known} known pages
        <span className="float-end text-[12px] text-soft">views a day</span>
      </p>
      <ul className="max-h-[196px] overflow-auto" tabIndex={0} aria-label="Known pages">
        {[...excluded, ...matching].map((page) => (
          <li key={page.path} className="flex items-center gap-2 border-b border-hair py-1">
            {page.shown ? (
              <Check className="h-4 w-4 flex-none text-good" aria-label="shown" />
            ) : (
              <X className="h-4 w-4 flex-none text-bad" aria-label="never" />
            )}
            <span className={`min-w-0 flex-1 overflow-hidden font-mono text-[12.5px] text-ellipsis ${page.shown ? '' : 'line-through'}`}>
              {page.path}
            </span>
            <span className={page.shown ? '' : 'text-bad'}>{page.shown ? (page.quietBy ? 'quiet' : page.viewsADay) : 'never'}</span>
          </li>
        ))}
      </ul>
      <p className="pt-1 text-[12px] text-soft">{match.known - match.shown - excluded.length} that do not match</p>
    </div>
  );
}

/** Patterns, each with the number of known pages that it alone means. */
export function Patterns({
  title,
  empty,
  adding,
  patterns,
  seen,
  known = [],
  onChange,
}: {
  title: string;
  empty: string;
  adding: string;
  patterns: readonly string[];
  seen: readonly Schema<'PatternView'>[];
  /** Paths of pages the snippet has been heard from, offered while one types. */
  known?: readonly string[];
  onChange(patterns: string[]): void;
}) {
  const [hint, setHint] = useState('');
  const list = useId();
  const input = useRef<HTMLInputElement>(null);

  function add() {
    const typed = input.current?.value.trim();
    if (!input.current || !typed || patterns.includes(typed)) return;
    onChange([...patterns, typed]);
    setHint('');
    input.current.value = '';
  }

  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-1">
      <p className="flex items-baseline gap-3">
        <span className="font-semibold">{title}</span>
        {patterns.length > 1 && (
          <button
            type="button"
            aria-label={`Remove all: ${title.toLowerCase()} ${patterns.join(', ')}`}
            className="text-[12px] text-cobalt hover:underline"
            onClick={() => onChange([])}
          >
            Remove all
          </button>
        )}
      </p>
      {patterns.length === 0 && <p className="text-soft">{empty}</p>}
      <ul className="grid grid-cols-[minmax(0,1fr)] gap-1">
        {patterns.map((pattern) => {
          const view = seen.find((s) => s.pattern === pattern);
          const others = patterns.filter((p) => p !== pattern);
          return (
            <li key={pattern}>
              <div
                className={`flex min-h-8 items-center gap-2 rounded border bg-sheet ps-2 ${view?.problem ? 'border-bad' : 'border-edge'}`}
              >
                <code className="min-w-0 flex-1 overflow-hidden font-mono text-[12.5px] text-ellipsis">{pattern}</code>
                {view && <span className="font-semibold text-where-deep">{view.pages}</span>}
                <button
                  type="button"
                  aria-label={`Remove ${pattern}`}
                  onClick={() => onChange(others)}
                  className="grid h-8 w-8 place-items-center"
                >
                  <X className="h-3.5 w-3.5" />
                </button>
              </div>
              {view?.problem && <p className="text-[12px] leading-4 text-bad">{view.problem}</p>}
              {view && !view.problem && view.reading !== pattern && (
                <p className="text-[12px] leading-4">
                  {view.hint}{' '}
                  <button
                    type="button"
                    className="font-semibold text-cobalt hover:underline"
                    onClick={() => onChange([...others, view.reading])}
                  >
                    Use {view.reading}
                  </button>
                </p>
              )}
            </li>
          );
        })}
      </ul>
      {/* No form of its own: it may stand inside one. */}
      <div className="flex gap-1">
        <input
          ref={input}
          name="pattern"
          aria-label={adding}
          placeholder={adding}
          className="min-w-0 flex-1 font-mono text-[12.5px] placeholder:font-sans placeholder:text-soft"
          list={list}
          onChange={() => setHint('Enter adds it')}
          onKeyDown={(event) => {
            if (event.key !== 'Enter') return;
            event.preventDefault();
            add();
          }}
        />
        <datalist id={list}>
          {known.map((path) => (
            <option key={path} value={path} />
          ))}
        </datalist>
        <button type="button" onClick={add} className="rounded border border-edge bg-sheet px-2 font-semibold">
          Add
        </button>
      </div>
      {hint && <p className="text-[12px] text-soft">{hint}</p>}
    </div>
  );
}

import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from '../kit/Button';
import { languageName } from '../kit/languages';
import { Refused } from '../kit/Panel';
import { PhraseMenu } from '../kit/PhraseMenu';
import { useDesk } from '../session/desk';
import { type Script, type ScriptDefinition, type Try, triedQuery } from './api';

/** The script tried in place, as any imagined visitor; nobody is told, and only what one keeps on purpose is kept. */
export function TryPane({
  script,
  languages,
  problems,
  mayEdit,
  onStep,
  onTries,
}: {
  script: Script;
  languages: readonly string[];
  /** What of the kept tries goes otherwise than it went. */
  problems: ScriptDefinition['problems'];
  mayEdit: boolean;
  onStep(id: string): void;
  onTries(tries: Try[]): void;
}) {
  const { site } = useDesk();
  const tries = script.tries ?? [];
  const [said, setSaid] = useState<readonly string[]>([]);
  const [typed, setTyped] = useState('');
  const [language, setLanguage] = useState(site.language);
  const [path, setPath] = useState('/');
  const [state, setState] = useState<'here' | 'open' | 'closed'>('here');
  const tried = useQuery(
    triedQuery(site.id, {
      script,
      said: [...said],
      language,
      path,
      isOpen: state !== 'closed',
      somebodyHere: state === 'here',
      segments: [],
      isKnown: false,
      region: '',
    }),
  );
  const [name, setName] = useState('');
  const queries = useQueryClient();
  // Kept anew as it goes now: its author has looked at the difference and means it.
  const again = useMutation({
    mutationFn: async (kept: Try) => {
      const now = await queries.fetchQuery(triedQuery(site.id, { script, said: kept.said, ...kept.as }));
      return { ...kept, passed: now.passed, kept: now.kept };
    },
    onSuccess: (kept) => onTries(tries.map((t) => (t.name === kept.name ? kept : t))),
  });
  function play(kept: Try) {
    setSaid(kept.said);
    setLanguage(kept.as.language);
    setState(kept.as.isOpen ? (kept.as.somebodyHere ? 'here' : 'open') : 'closed');
    setPath(kept.as.path);
  }
  function keep() {
    if (!data || !name.trim()) return;
    const kept: Try = { name: name.trim(), said: [...said], as: data.as, passed: data.passed, kept: data.kept };
    onTries([...tries.filter((t) => t.name !== kept.name), kept]);
    setName('');
  }
  const data = tried.data;
  const last = data?.said.at(-1);
  const say = (words: string) => {
    if (words.trim()) setSaid([...said, words.trim()]);
    setTyped('');
  };
  return (
    <section aria-label="Try it" className="grid content-start gap-3 p-4">
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h2 className="text-[15px] leading-6">Try it</h2>
        <span className="text-soft">
          in{' '}
          <PhraseMenu
            facet="who"
            label="Language"
            value={language}
            choices={[site.language, ...languages].map((l) => [l, languageName(l)] as const)}
            onChoose={setLanguage}
          />
          ,{' '}
          <PhraseMenu
            facet="when"
            label="Who is there"
            value={state}
            choices={[
              ['here', 'somebody here'],
              ['open', 'open, nobody here'],
              ['closed', 'closed'],
            ]}
            onChoose={(s) => setState(s as typeof state)}
          />
          , on{' '}
          <input
            aria-label="Page they are on"
            value={path}
            maxLength={200}
            className="field-sizing-content min-w-8 max-w-40 font-mono text-[12.5px]"
            onChange={(e) => setPath(e.currentTarget.value)}
          />
        </span>
        <Button kind="link" className="ms-auto" onClick={() => setSaid([])}>
          Start over
        </Button>
      </div>
      <div className="max-w-[380px] rounded border border-ink bg-sheet">
        <div className="max-h-[44vh] overflow-auto" role="log" aria-label="What is said" tabIndex={0}>
          {data?.said.map((word, i) =>
            word.kind === null ? (
              // biome-ignore lint/suspicious/noArrayIndexKey: words are only ever added.
              <p key={i} dir="auto" className="border-t border-hair bg-sheet2 px-4 py-2 font-semibold">
                {word.text}
              </p>
            ) : (
              <button
                // biome-ignore lint/suspicious/noArrayIndexKey: words are only ever added.
                key={i}
                type="button"
                dir="auto"
                className="block w-full border-t border-hair px-4 py-2 text-start first:border-t-0 hover:bg-selectwash"
                onClick={() => word.step && onStep(word.step)}
              >
                {word.kind === 'handOver' ? (
                  <i>handed to a person</i>
                ) : word.kind === 'end' ? (
                  <i>the script has ended</i>
                ) : word.kind === 'fault' ? (
                  <span className="text-bad">{word.text}</span>
                ) : (
                  word.text
                )}
              </button>
            ),
          )}
        </div>
        {last?.replies.map((reply) => (
          <button
            key={reply}
            type="button"
            dir="auto"
            className="block w-full border-t border-hair px-4 py-2 text-start font-bold text-[#9c3517] hover:bg-sheet2"
            onClick={() => say(reply)}
          >
            {reply}
          </button>
        ))}
        {data && !data.isOver && (
          <form
            className="flex gap-2 border-t border-ink p-2"
            onSubmit={(e) => {
              e.preventDefault();
              say(typed);
            }}
          >
            <input
              aria-label="What the visitor says"
              placeholder="Or in own words"
              dir="auto"
              value={typed}
              maxLength={1000}
              className="min-w-0 flex-1 placeholder:text-soft"
              onChange={(e) => setTyped(e.currentTarget.value)}
            />
            <Button type="submit">Say</Button>
          </form>
        )}
      </div>
      <Refused error={tried.error} />
      <h3 className="text-[15px] leading-6">Kept about this visitor</h3>
      {Object.keys(data?.kept ?? {}).length === 0 ? (
        <p className="text-soft">Nothing yet.</p>
      ) : (
        <dl className="grid max-w-[380px] grid-cols-[96px_minmax(0,1fr)] gap-x-3 gap-y-1">
          {Object.entries(data?.kept ?? {}).map(([field, answer]) => (
            <div key={field} className="contents">
              <dt className="truncate font-mono text-[12px] leading-5 text-soft">{field}</dt>
              <dd>
                {answer.isUnderstood ? <b className="font-semibold">{answer.value}</b> : <span className="text-warn">not understood</span>}
                {answer.said !== answer.value && <span className="ms-2 text-soft">from “{answer.said}”</span>}
              </dd>
            </div>
          ))}
        </dl>
      )}
      <h3 className="text-[15px] leading-6">Kept tries</h3>
      <p className="text-soft">Run before every publishing. One that goes otherwise than it went is mended, or kept anew on purpose.</p>
      <ul className="max-w-[380px]">
        {tries.map((kept, i) => {
          const otherwise = problems.find((p) => p.field === `tries[${i}]`);
          return (
            <li key={kept.name} className="border-t border-hair py-1.5">
              <span className="flex items-center gap-2">
                <button
                  type="button"
                  className="min-w-0 flex-1 truncate text-start font-semibold hover:underline"
                  onClick={() => play(kept)}
                >
                  {kept.name}
                </button>
                <span className={`text-[12px] ${otherwise ? 'font-semibold text-bad' : 'text-soft'}`}>
                  {otherwise ? 'goes otherwise' : 'as it went'}
                </span>
                {mayEdit && (
                  <Button kind="link" aria-label={`Remove the try ${kept.name}`} onClick={() => onTries(tries.filter((t) => t !== kept))}>
                    Remove
                  </Button>
                )}
              </span>
              {otherwise && (
                <span className="flex items-start gap-2 text-[12px] leading-4 text-bad">
                  <span className="min-w-0 flex-1">{otherwise.message}</span>
                  {mayEdit && (
                    <Button kind="link" disabled={again.isPending} onClick={() => again.mutate(kept)}>
                      Keep as it goes now
                    </Button>
                  )}
                </span>
              )}
            </li>
          );
        })}
      </ul>
      {mayEdit && (
        <form
          className="flex max-w-[380px] gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            keep();
          }}
        >
          <input
            aria-label="Name of this try"
            placeholder="Ten people, handed over"
            value={name}
            maxLength={80}
            className="min-w-0 flex-1 placeholder:text-soft"
            onChange={(e) => setName(e.currentTarget.value)}
          />
          <Button type="submit" disabled={!name.trim() || !data}>
            Keep this try
          </Button>
        </form>
      )}
      <Refused error={again.error} />
    </section>
  );
}

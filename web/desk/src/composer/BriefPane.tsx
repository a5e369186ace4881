import { useEffect, useRef, useState } from 'react';
import { changedPhrases, type Names, readBrief, type Sentence } from '../brief/model';
import type { Brief } from '../brief/types';
import type { Schema } from '../data/api';
import { markerOf, Phrase } from '../kit/Phrase';
import { PhraseBox } from '../kit/PhraseBox';
import { initials } from '../session/model';
import { PhraseEditor } from './PhraseEditor';

const FACET_OF_PROBLEM: Record<Schema<'Facet'>, Sentence['facet']> = {
  say: 'say',
  from: 'from',
  ask: 'ask',
  promise: 'promise',
  after: 'after',
  where: 'where',
  who: 'who',
  when: 'when',
  howOften: 'often',
  look: 'look',
};

/** Phrases behind which the message is written. */
const WRITTEN = ['say.message', 'say.detail', 'say.languages'];

/** The brief: sentences whose marked phrases open their control in place. Escape closes it and gives the focus back. */
export function BriefPane({
  brief,
  live,
  names,
  problems,
  mayEdit,
  openAt,
  onLeft,
  colleagues,
  onOpen,
  onChange,
}: {
  brief: Brief;
  live: Brief | null;
  names: Names;
  problems: readonly Schema<'ProblemView'>[];
  mayEdit: boolean;
  /** The facet whose first phrase is to be opened. */
  openAt: string | undefined;
  /** Is told that one has gone on from there, so that it can be asked for again. */
  onLeft(): void;
  /** Who else is at which facet. */
  colleagues: readonly { name: string; facet: string }[];
  /** Is told which facet is being worked on. */
  onOpen(facet: string | undefined): void;
  onChange(brief: Brief): void;
}) {
  const [open, setOpen] = useState<string>();
  // biome-ignore lint/correctness/useExhaustiveDependencies: a facet is opened when it is asked for, not again when the brief changes.
  useEffect(() => {
    if (!openAt) return;
    const phrase = readBrief(brief, names)
      .find((s) => s.facet === openAt)
      ?.parts.find((p) => typeof p !== 'string');
    if (mayEdit && phrase && typeof phrase !== 'string') setOpen(phrase.key);
  }, [openAt]);
  const pane = useRef<HTMLDivElement>(null);
  const changed = changedPhrases(brief, live);
  const openFacet = readBrief(brief, names).find((s) => s.parts.some((p) => typeof p !== 'string' && p.key === open))?.facet;
  // biome-ignore lint/correctness/useExhaustiveDependencies: only where one works is told, not who listens.
  useEffect(() => onOpen(openFacet), [openFacet]);

  function turnTo(key: string | undefined) {
    setOpen(key);
    if (openAt) onLeft();
  }

  function close() {
    const key = open;
    turnTo(undefined);
    requestAnimationFrame(() => pane.current?.querySelector<HTMLElement>(`[data-phrase="${key}"]`)?.focus());
  }

  return (
    <div ref={pane} className="px-4 py-3">
      {readBrief(brief, names).map((sentence) => {
        const opened = sentence.parts.find((p) => typeof p !== 'string' && p.key === open);
        // What is said of a word stands under that word while its message is open.
        const isWriting = !!open && WRITTEN.includes(open);
        const said = problems.filter((p) => FACET_OF_PROBLEM[p.facet] === sentence.facet && !(isWriting && p.word));
        return (
          <section
            key={sentence.facet}
            aria-label={sentence.label}
            className={`mb-2 ${colleagues.some((c) => c.facet === sentence.facet) ? '-mx-4 bg-sheet2 px-4' : ''}`}
          >
            <div className="flex max-sm:block">
              <h2
                className="w-[88px] flex-none pt-1.5 font-sans text-[13px] leading-5 tracking-normal"
                style={{ color: markerOf(sentence.facet)['--deep' as never] }}
              >
                {sentence.label}
              </h2>
              <p className="min-w-0 flex-1 font-display text-[18px] leading-8">
                {sentence.parts.map((part) =>
                  typeof part === 'string' ? (
                    part
                  ) : (
                    <Phrase
                      key={part.key}
                      facet={sentence.facet}
                      phraseKey={part.key}
                      isOpen={open === part.key}
                      changed={changed.includes(part.key)}
                      disabled={!mayEdit}
                      onOpen={() => turnTo(open === part.key ? undefined : part.key)}
                    >
                      {part.words}
                    </Phrase>
                  ),
                )}
              </p>
              {colleagues
                .filter((c) => c.facet === sentence.facet)
                .map((c) => (
                  <span
                    key={c.name}
                    title={`${c.name} is here`}
                    className="mt-1.5 grid h-6 min-w-6 flex-none place-items-center bg-hair px-1 text-[12px] font-bold"
                  >
                    {initials(c.name)}
                    <span className="sr-only">: {c.name} is working here</span>
                  </span>
                ))}
            </div>
            {said.map((problem) => (
              <p
                key={`${problem.field}:${problem.message}`}
                className={`ms-[88px] text-[12px] leading-4 max-sm:ms-0 ${problem.blocks ? 'text-bad' : 'text-warn'}`}
              >
                <b>{problem.blocks ? 'Stops publishing:' : 'Worth a look:'}</b> {problem.message}
              </p>
            ))}
            {opened && typeof opened !== 'string' && (
              <PhraseBox label={opened.words} onClose={close}>
                <PhraseEditor key={opened.key} phrase={opened.key} brief={brief} names={names} onChange={onChange} />
              </PhraseBox>
            )}
          </section>
        );
      })}
      {changed.length > 0 && (
        <p className="ms-[88px] flex items-center gap-1.5 text-[12px] text-soft max-sm:ms-0">
          <span className="h-[7px] w-[7px] rounded-full border border-ink bg-marigold" /> changed since the live revision
        </p>
      )}
    </div>
  );
}

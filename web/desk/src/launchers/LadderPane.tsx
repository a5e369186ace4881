import { useMutation, useQuery } from '@tanstack/react-query';
import { Plus, Trash2 } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { useState } from 'react';
import type { Names } from '../brief/model';
import type { Schema } from '../data/api';
import { say } from '../data/toasts';
import { FacetTag } from '../kit/FacetTag';
import { NumberField, Tick } from '../kit/Field';
import { Refused } from '../kit/Panel';
import { type Facet, Phrase } from '../kit/Phrase';
import { PhraseBox } from '../kit/PhraseBox';
import { Sortable, useSortableItem } from '../kit/Sortable';
import { pageClock } from '../kit/time';
import { useDesk } from '../session/desk';
import {
  type Climbed,
  climbQuery,
  type Launcher,
  type LauncherBrief,
  ladderFiguresQuery,
  type Rung,
  startGreeting,
  type Visitor,
} from './api';
import { Problems } from './Problems';
import { RungEditor, type RungPart } from './RungEditor';
import { actWords, greetingWords, whenWords, whereWords, whoWords } from './words';

/** From what a greeting may begin. */
const PURPOSES: readonly (readonly [Schema<'GreetingPurpose'>, string, string])[] = [
  ['choosing', 'Help with choosing', 'On a page looked at for long, with two ready replies.'],
  ['groups', 'Group visits', 'After a while on the pages you choose; opens the panel.'],
  ['orders', 'Questions about an order', 'To those who bought in the last 30 days, on arrival.'],
  ['away', 'While nobody is here', 'While closed: asks for a message.'],
  ['newHere', 'New here', 'To new visitors, while somebody is here.'],
  ['own', 'A greeting of your own', 'To everybody, after half a minute.'],
];

const CONTROL_FACET: Partial<Record<NonNullable<Schema<'ControlPlace'>>, Facet>> = {
  where: 'where',
  who: 'who',
  when: 'when',
  howOften: 'often',
  say: 'say',
  look: 'look',
};

/** The phrase of a greeting behind which a facet of a callout stands. */
const PARTS: Record<string, RungPart> = { where: 'where', who: 'who', when: 'when', often: 'when', say: 'say', look: 'does' };

/** The ladder: greetings in the order in which they are tried, and which of them is the one for the visitor on the stage. */
export function LadderPane({
  launcher,
  brief,
  names,
  visitor,
  path,
  at,
  asked,
  askedPart,
  mayEdit,
  onChange,
}: {
  launcher: Launcher;
  brief: LauncherBrief;
  names: Names;
  visitor: Visitor;
  path: string;
  at: string;
  /** A greeting that was asked for by a link, and by which facet. */
  asked: string | undefined;
  askedPart: string | undefined;
  mayEdit: boolean;
  onChange(change: Partial<LauncherBrief>): void;
}) {
  const { site } = useDesk();
  const climbed = useQuery(climbQuery(site.id, launcher.id, launcher.draftVersion, visitor, path, at));
  const figures = useQuery(ladderFiguresQuery(site.id, launcher.id, launcher.draftVersion));
  const [open, setOpen] = useState<{ rung: string; part: RungPart } | undefined>(() =>
    asked && mayEdit ? { rung: asked, part: PARTS[askedPart ?? ''] ?? 'say' } : undefined,
  );
  const { rungs } = brief;
  const add = useMutation({
    mutationFn: (purpose: Schema<'GreetingPurpose'>) => startGreeting(site.id, purpose),
    // Above the last one: that is the fallback as a rule, and takes whoever comes to it.
    onSuccess: (made) => {
      const place = rungs.length > 1 || (rungs.length === 1 && isFallback(rungs[0])) ? rungs.length - 1 : rungs.length;
      onChange({ rungs: [...rungs.slice(0, place), made, ...rungs.slice(place)] });
      setOpen({ rung: made.id, part: 'say' });
    },
  });
  return (
    <section aria-label="Greeting ladder" className="flex-auto bg-sheet px-4 py-3">
      <div className="mb-2 flex flex-wrap items-baseline gap-x-3">
        <h2 className="text-[17px] leading-6">Greeting ladder</h2>
        <span className="text-soft">the first that fits is the one</span>
        {mayEdit && (
          <DropdownMenu.Root modal={false}>
            <DropdownMenu.Trigger
              disabled={add.isPending}
              className="ms-auto inline-flex min-h-8 items-center gap-1 font-semibold text-cobalt hover:underline"
            >
              <Plus className="h-4 w-4" aria-hidden="true" /> Add a greeting
            </DropdownMenu.Trigger>
            <DropdownMenu.Portal>
              <DropdownMenu.Content
                align="end"
                className="z-50 w-[360px] max-w-[calc(100vw-24px)] rounded border border-ink bg-sheet p-1 shadow-lg"
              >
                {PURPOSES.map(([purpose, name, what]) => (
                  <DropdownMenu.Item
                    key={purpose}
                    onSelect={() => add.mutate(purpose)}
                    className="grid cursor-pointer rounded px-2 py-1.5 outline-none data-[highlighted]:bg-selectwash"
                  >
                    <span className="font-semibold">{name}</span>
                    <span className="text-[12px] leading-4 text-soft">{what}</span>
                  </DropdownMenu.Item>
                ))}
              </DropdownMenu.Content>
            </DropdownMenu.Portal>
          </DropdownMenu.Root>
        )}
      </div>
      <Refused error={add.error ?? climbed.error ?? figures.error} />
      {climbed.data?.problem && <p className="text-warn">It cannot be tried yet. {climbed.data.problem}</p>}
      {climbed.data?.away && (
        <p className="text-warn">
          It is not on {path}: {climbed.data.away}
        </p>
      )}
      <Problems problems={launcher.problems.filter((p) => p.field === 'rungs')} of={['rungs']} />
      {rungs.length === 0 && (
        <p className="py-3 text-soft">
          It greets nobody by itself: the button waits to be clicked. Add a greeting to open with the right words for the right visitor.
        </p>
      )}
      <Sortable
        items={rungs}
        idOf={(r) => r.id}
        nameOf={(r) => `greeting ${rungs.indexOf(r) + 1}`}
        onOrder={(moved) => onChange({ rungs: moved })}
      >
        <ol className="grid">
          {rungs.map((rung, i) => (
            <RungRow
              key={rung.id}
              rung={rung}
              number={i + 1}
              names={names}
              problems={launcher.problems.filter((p) => p.field.startsWith(`rungs[${i}]`))}
              climbed={climbed.data?.rungs.find((c) => c.id === rung.id)}
              figures={figures.data}
              open={open?.rung === rung.id ? open.part : undefined}
              mayEdit={mayEdit}
              onOpen={(part) => setOpen(part ? { rung: rung.id, part } : undefined)}
              onChange={(change) => onChange({ rungs: rungs.map((r) => (r.id === rung.id ? { ...r, ...change } : r)) })}
              onRemove={() => {
                onChange({ rungs: rungs.filter((r) => r.id !== rung.id) });
                say(`Removed greeting ${i + 1}. Ctrl Z takes it back.`);
              }}
            />
          ))}
        </ol>
      </Sortable>
      {rungs.length > 0 && (
        <details className="mt-3 text-soft">
          <summary className="cursor-pointer">Limits of the ladder</summary>
          <div className="mt-2 grid gap-2 text-ink">
            <NumberField
              label="At most"
              value={brief.mostPerVisit}
              min={1}
              max={20}
              after="greetings in one visit"
              onValue={(mostPerVisit) => onChange({ mostPerVisit })}
              disabled={!mayEdit}
            />
            <Tick checked={brief.thenNext} onTick={(thenNext) => mayEdit && onChange({ thenNext })}>
              Where a greeting was seen, closed or answered already, try the next one (else nothing greets then)
            </Tick>
          </div>
        </details>
      )}
    </section>
  );
}

const isFallback = (rung: Rung | undefined) =>
  !!rung && rung.where.includes.length + rung.where.groups.length === 0 && JSON.stringify(rung.who.rule).includes('"rules":[]');

function RungRow({
  rung,
  number,
  names,
  problems,
  climbed,
  figures,
  open,
  mayEdit,
  onOpen,
  onChange,
  onRemove,
}: {
  rung: Rung;
  number: number;
  names: Names;
  problems: Launcher['problems'];
  climbed: Climbed['rungs'][number] | undefined;
  figures: Schema<'LadderFiguresView'> | undefined;
  open: RungPart | undefined;
  mayEdit: boolean;
  onOpen(part: RungPart | undefined): void;
  onChange(change: Partial<Rung>): void;
  onRemove(): void;
}) {
  const { item, isDragging, handle } = useSortableItem(rung.id, `greeting ${number}`);
  const wins = climbed?.verdict === 'wins';
  const isFaint = climbed?.verdict === 'notReached';
  const phrase = (key: RungPart, facet: Facet, words: string) => (
    <Phrase
      facet={facet}
      phraseKey={`${rung.id}.${key}`}
      isOpen={open === key}
      changed={false}
      disabled={!mayEdit}
      onOpen={() => onOpen(open === key ? undefined : key)}
    >
      {words}
    </Phrase>
  );
  function close() {
    const key = open;
    onOpen(undefined);
    requestAnimationFrame(() => document.querySelector<HTMLElement>(`[data-phrase="${rung.id}.${key}"]`)?.focus());
  }
  const own = figures?.rungs.find((r) => r.id === rung.id);
  return (
    <li
      {...item}
      className={`relative grid grid-cols-[44px_minmax(0,1fr)_auto] gap-x-3 ${isDragging ? 'z-10 bg-sheet shadow-lg' : ''} ${wins ? 'bg-[#fff6df]' : ''}`}
    >
      {/* The rail of the ladder, with the rung across it. */}
      <span className="relative border-x-[3px] border-ink" aria-hidden="true">
        <span
          className={`absolute inset-x-0 top-2.5 grid h-6 place-items-center border-y-2 border-ink text-[13px] font-bold ${wins ? 'bg-marigold' : 'bg-sheet'}`}
        >
          {number}
        </span>
      </span>
      <div className="min-w-0 border-b border-hair py-2">
        <p className={`font-display text-[16px] leading-7 ${isFaint ? 'opacity-70' : ''}`}>
          <span className="sr-only">Greeting {number}: </span>
          On {phrase('where', 'where', whereWords(rung.where, names))}, to {phrase('who', 'who', whoWords(rung, names))},{' '}
          {phrase('when', 'when', whenWords(rung))}: {phrase('say', 'say', greetingWords(rung))} and{' '}
          {phrase('does', 'look', actWords(rung))}
        </p>
        <div className="flex flex-wrap items-baseline gap-x-2 text-[12px] leading-5">
          {climbed && <Verdict climbed={climbed} />}
          {own && figures && figures.visits > 0 && (
            <span className="ms-auto text-soft">
              fits <b className="text-ink">{share(own.fits, figures.visits)}</b> of 100 visits
              {own.shown > 0 && (
                <>
                  , <b className="text-ink">{Math.round((own.answered / own.shown) * 100)} %</b> answer
                </>
              )}
            </span>
          )}
        </div>
        <Problems problems={problems} of={[`rungs[${number - 1}]`]} />
        {open && (
          <PhraseBox label={`greeting ${number}`} onClose={close}>
            <RungEditor rung={rung} part={open} names={names} onChange={onChange} />
          </PhraseBox>
        )}
      </div>
      {mayEdit && (
        <span className="flex items-start py-2">
          {handle}
          <button
            type="button"
            aria-label={`Remove greeting ${number}`}
            onClick={onRemove}
            className="grid h-8 w-8 place-items-center rounded text-soft hover:bg-hair"
          >
            <Trash2 className="h-4 w-4" />
          </button>
        </span>
      )}
    </li>
  );
}

const share = (fits: number, of: number) => {
  const part = (fits / of) * 100;
  return part > 0 && part < 1 ? 'less than 1' : Math.round(part);
};

/** What becomes of a greeting for the visitor on the stage. */
function Verdict({ climbed }: { climbed: Climbed['rungs'][number] }) {
  const facet = climbed.control ? CONTROL_FACET[climbed.control] : undefined;
  switch (climbed.verdict) {
    case 'wins':
      return (
        <span>
          <span className="me-1.5 inline-block h-2.5 w-2.5 rounded-full border border-ink bg-marigold" aria-hidden="true" />
          <b>{climbed.dueMs === null ? 'Is the one' : `Wins at ${pageClock(climbed.dueMs)}`}</b>{' '}
          <span className="text-soft">{climbed.dueMs === null ? climbed.says : 'everything it asks for holds'}</span>
        </span>
      );
    case 'notReached':
      return <span className="text-soft">{climbed.says}</span>;
    default:
      return (
        <span>
          <b className={climbed.verdict === 'keptBack' ? 'text-warn' : 'text-bad'}>
            {climbed.verdict === 'keptBack' ? 'Kept back' : 'Passed over'}
          </b>{' '}
          {facet && <FacetTag facet={facet} />} <span>{climbed.says}</span>
        </span>
      );
  }
}

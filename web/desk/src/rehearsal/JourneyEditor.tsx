import { useQuery } from '@tanstack/react-query';
import { ArrowUp, X } from 'lucide-react';
import { useState } from 'react';
import { calloutsQuery, pagesQuery } from '../catalogue/api';
import { Button } from '../kit/Button';
import { NumberField, SelectField, TextField, Tick } from '../kit/Field';
import { PhrasePopover } from '../kit/PhrasePopover';
import { useRowKeys } from '../kit/useRowKeys';
import { useDesk } from '../session/desk';
import { type PlannedPage, plannedPage } from '../visits/model';

type Act = NonNullable<PlannedPage['acts']>[number];

/** One page of the journey as a sentence: the page, how long, how far, and what is done there. */
export function PageSentence({
  page,
  place,
  onChange,
  onRemove,
  onEarlier,
}: {
  page: PlannedPage;
  place: number;
  onChange(page: PlannedPage): void;
  onRemove?: (() => void) | undefined;
  onEarlier?: (() => void) | undefined;
}) {
  const acts = page.acts ?? [];
  const done = [...(page.leaves ? ['turns to leave'] : []), ...acts.map(actWords)];
  return (
    <div className="flex items-start gap-1">
      <p className="min-w-0 flex-1 font-display text-[15px] leading-[26px]">
        <span className="text-soft">{place}.</span> <code className="font-mono text-[12.5px] break-all">{page.path}</code>,{' '}
        <PhrasePopover facet="when" label="How long" words={`${page.staySeconds} s`}>
          {() => (
            <NumberField
              label="Stays"
              min={1}
              max={1800}
              value={page.staySeconds}
              onValue={(staySeconds) => staySeconds >= 1 && staySeconds <= 1800 && onChange({ ...page, staySeconds })}
              after="seconds"
            />
          )}
        </PhrasePopover>
        , scrolls to{' '}
        <PhrasePopover facet="when" label="How far" words={`${page.scrollPercent} %`}>
          {() => (
            <NumberField
              label="Scrolls to"
              min={0}
              max={100}
              value={page.scrollPercent}
              onValue={(scrollPercent) => scrollPercent >= 0 && scrollPercent <= 100 && onChange({ ...page, scrollPercent })}
              after="% of the page, evenly"
            />
          )}
        </PhrasePopover>
        ,{' '}
        <PhrasePopover facet="when" label="What is done there" words={done.join(', ') || 'does nothing else'}>
          {() => <Acts page={page} acts={acts} onChange={onChange} />}
        </PhrasePopover>
      </p>
      {onEarlier && (
        <button
          type="button"
          onClick={onEarlier}
          aria-label={`Move ${page.path} before the page above`}
          className="grid h-8 w-8 flex-none place-items-center rounded hover:bg-sheet2"
        >
          <ArrowUp className="h-4 w-4" />
        </button>
      )}
      {onRemove && (
        <button
          type="button"
          onClick={onRemove}
          aria-label={`Take ${page.path} out of the journey`}
          className="grid h-8 w-8 flex-none place-items-center rounded hover:bg-sheet2"
        >
          <X className="h-4 w-4" />
        </button>
      )}
    </div>
  );
}

const ACTS: Partial<Record<Act['kind'], string>> = {
  close: 'closes',
  click: 'clicks the link of',
  clickElement: 'clicks the element',
  see: 'brings into view',
  pageEvent: 'sends the event',
  hide: 'turns to another tab',
  return: 'comes back to the tab',
};

const ACT_CHOICES = Object.entries(ACTS) as [Act['kind'], string][];

const needsCallout = (kind: Act['kind']) => kind === 'close' || kind === 'click';
const needsTarget = (kind: Act['kind']) => kind === 'clickElement' || kind === 'see' || kind === 'pageEvent';

function actWords(act: Act): string {
  const what = needsTarget(act.kind) ? ` ${act.target}` : needsCallout(act.kind) ? ' a callout' : '';
  return `${ACTS[act.kind] ?? act.kind}${what} at ${act.atSeconds} s`;
}

function Acts({ page, acts, onChange }: { page: PlannedPage; acts: readonly Act[]; onChange(page: PlannedPage): void }) {
  const { site } = useDesk();
  const { data: callouts } = useQuery(calloutsQuery(site.id));
  const rows = useRowKeys(acts.length);
  const [kind, setKind] = useState<Act['kind']>('close');
  const [at, setAt] = useState(10);
  const [callout, setCallout] = useState('');
  const [target, setTarget] = useState('');
  const live = (callouts ?? []).filter((c) => c.state === 'live');
  const chosen = callout || live[0]?.id || '';
  const isReady = (!needsTarget(kind) || target.trim()) && (!needsCallout(kind) || chosen) && at >= 0 && at <= page.staySeconds;
  return (
    <div className="grid gap-3">
      <Tick checked={page.leaves} onTick={(leaves) => onChange({ ...page, leaves })}>
        turns to leave a second before the end
      </Tick>
      {acts.length > 0 && (
        <ul className="border-t border-hair">
          {acts.map((act, i) => (
            <li key={rows.keys[i]} className="flex items-center gap-2 border-b border-hair py-1">
              <span className="flex-1">{actWords(act)}</span>
              <button
                type="button"
                className="font-semibold text-cobalt hover:underline"
                onClick={() => {
                  rows.removed(i);
                  onChange({ ...page, acts: acts.filter((_, place) => place !== i) });
                }}
              >
                Take out
              </button>
            </li>
          ))}
        </ul>
      )}
      <SelectField<Act['kind']> label="Add: the visitor" value={kind} choices={ACT_CHOICES} onChoose={setKind} />
      {needsCallout(kind) && (
        <SelectField label="Which callout" value={chosen} choices={live.map((c) => [c.id, c.name] as const)} onChoose={setCallout} />
      )}
      {needsTarget(kind) && (
        <TextField
          label={kind === 'pageEvent' ? 'Name of the event' : 'Selector of the element'}
          value={target}
          onChange={(e) => setTarget(e.currentTarget.value)}
        />
      )}
      <NumberField label="At second" min={0} max={page.staySeconds} value={at} onValue={setAt} />
      <p>
        <Button
          disabled={!isReady}
          onClick={() =>
            onChange({
              ...page,
              acts: [
                ...acts,
                { atSeconds: at, kind, callout: needsCallout(kind) ? chosen : null, target: needsTarget(kind) ? target.trim() : '' },
              ],
            })
          }
        >
          Add it
        </Button>
      </p>
    </div>
  );
}

/** The site's known pages, by traffic: a click adds one to the journey. */
export function PageList({ onAdd }: { onAdd(page: PlannedPage): void }) {
  const { site } = useDesk();
  const [wanted, setWanted] = useState('');
  const { data } = useQuery(pagesQuery(site.id, EVERYWHERE));
  const fitting = (data?.pages ?? []).filter((p) => p.path.toLowerCase().includes(wanted.trim().toLowerCase())).slice(0, 60);
  const typed = wanted.trim().startsWith('/') && !fitting.some((p) => p.path === wanted.trim());
  return (
    <section aria-label="Pages" className="flex min-h-0 flex-1 flex-col">
      <div className="flex-none border-y border-ink bg-paper px-4 py-2">
        <TextField
          label="Add a page"
          placeholder="Filter, or type a path"
          value={wanted}
          onChange={(e) => setWanted(e.currentTarget.value)}
          onKeyDown={(e) => {
            const path = typed ? wanted.trim() : fitting[0]?.path;
            if (e.key !== 'Enter' || !path) return;
            onAdd(plannedPage(path));
            setWanted('');
          }}
        />
      </div>
      <ul className="min-h-[160px] flex-1 overflow-auto bg-sheet">
        {typed && (
          <li>
            <PageButton path={wanted.trim()} note="not known yet" onAdd={() => onAdd(plannedPage(wanted.trim()))} />
          </li>
        )}
        {fitting.map((p) => (
          <li key={p.path}>
            <PageButton path={p.path} note={p.viewsADay.toLocaleString('en-GB')} onAdd={() => onAdd(plannedPage(p.path))} />
          </li>
        ))}
        {data && fitting.length === 0 && !typed && <li className="p-4 text-soft">No known page has that in its path.</li>}
      </ul>
    </section>
  );
}

const EVERYWHERE = { includes: [], excludes: [], groups: [], replaces: false };

function PageButton({ path, note, onAdd }: { path: string; note: string; onAdd(): void }) {
  return (
    <button
      type="button"
      onClick={onAdd}
      className="flex min-h-8 w-full items-center gap-3 border-b border-hair px-4 text-start hover:bg-selectwash"
    >
      <span className="sr-only">Add to the journey: </span>
      <code className="min-w-0 flex-1 truncate font-mono text-[12.5px]">{path}</code>
      <span className="text-[12px] text-soft">{note}</span>
    </button>
  );
}

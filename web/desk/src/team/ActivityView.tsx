import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useState } from 'react';
import { Button } from '../kit/Button';
import { Failed, Waiting } from '../kit/Notice';
import { clock, day } from '../kit/time';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { type Trace, tracesFile, tracesQuery } from './api';
import { Face } from './Face';
import { wayBack } from './undo';

/** What was done and by whom, newest first, in days; nobody can change it afterwards. */
export function ActivityView({ member: whose, query }: { member: string | undefined; query: string | undefined }) {
  const { workspace, member } = useDesk();
  const [pages, setPages] = useState<readonly (string | undefined)[]>([undefined]);
  return (
    <section aria-label="Activity" className="grid content-start">
      {pages.map((before, i) => (
        <ActivityPage
          key={before ?? 'first'}
          whose={whose}
          query={query}
          before={before}
          onOlder={i === pages.length - 1 ? (next) => setPages([...pages, next]) : undefined}
        />
      ))}
      {mayAct(member, 'govern') && (
        <p className="p-4">
          <a className="font-semibold text-cobalt hover:underline" href={tracesFile(workspace.id)} download>
            Take it all as a table (CSV)
          </a>
        </p>
      )}
    </section>
  );
}

function ActivityPage({
  whose,
  query,
  before,
  onOlder,
}: {
  whose: string | undefined;
  query: string | undefined;
  before: string | undefined;
  onOlder: ((next: string) => void) | undefined;
}) {
  const { workspace } = useDesk();
  const traces = useQuery(tracesQuery(workspace.id, whose, query, before));
  if (traces.isError) return <Failed error={traces.error} again={() => void traces.refetch()} />;
  if (!traces.data) return <Waiting>Fetching what was done</Waiting>;
  const days = new Map<string, Trace[]>();
  for (const trace of traces.data.traces) days.set(day(trace.at), [...(days.get(day(trace.at)) ?? []), trace]);
  if (days.size === 0 && !before) return <p className="p-4 text-soft">{whose || query ? 'Nothing fits.' : 'Nothing was done yet.'}</p>;
  return (
    <>
      {[...days].map(([date, acts]) => (
        <div key={date}>
          <h2 className="border-b border-hair px-4 pt-4 pb-1 text-[15px] leading-6">
            {date === day(new Date().toISOString()) ? 'Today' : date}
          </h2>
          <ul>
            {acts.map((t) => (
              <Line key={t.id} trace={t} isNewest={isLast(traces.data.traces, t)} />
            ))}
          </ul>
        </div>
      ))}
      {traces.data.next && onOlder && (
        <p className="p-4">
          <Button onClick={() => onOlder(traces.data.next as string)}>Older ones</Button>
        </p>
      )}
    </>
  );
}

function Line({ trace, isNewest }: { trace: Trace; isNewest: boolean }) {
  const { member } = useDesk();
  const [open, setOpen] = useState(false);
  const { changes } = trace;
  return (
    <li className="border-b border-hair px-4 py-2">
      <div className="flex items-start gap-3">
        <span className="w-11 flex-none pt-1 text-soft">{clock(trace.at)}</span>
        <Face name={trace.by} isSelf={trace.memberId === member.id} />
        <p className="min-w-0 flex-1 pt-1">
          <strong>{trace.by}</strong> {trace.act} <Subject trace={trace} />
          {changes.length === 1 && changes[0] && (changes[0].before || changes[0].after) && <Change change={changes[0]} />}
        </p>
        <span className="hidden pt-1 text-[12px] text-soft sm:inline">{trace.device}</span>
        {isNewest && <Undo trace={trace} />}
        {changes.length > 1 && (
          <Button kind="link" className="!min-h-7" aria-expanded={open} onClick={() => setOpen(!open)}>
            {changes.length} changes
          </Button>
        )}
      </div>
      {open && (
        <ul className="grid gap-1 py-1 ps-[92px]">
          {changes.map((c) => (
            <li key={c.what}>
              <Change change={c} />
            </li>
          ))}
        </ul>
      )}
    </li>
  );
}

// What was done again since to the same thing is undone there, not here.
const isLast = (all: readonly Trace[], trace: Trace) => {
  const about = (t: Trace) => `${t.siteId} ${t.link || t.subject}`;
  return all.find((t) => about(t) === about(trace))?.id === trace.id && Date.now() - Date.parse(trace.at) < 86_400_000;
};

function Undo({ trace }: { trace: Trace }) {
  const { workspace, member } = useDesk();
  const queries = useQueryClient();
  const way = wayBack(trace, workspace.id);
  const undo = useMutation({ mutationFn: async () => way?.run(), onSuccess: () => queries.invalidateQueries() });
  if (!way || !mayAct(member, way.right)) return null;
  return (
    <Button
      kind="link"
      className="!min-h-7"
      aria-label={`Undo: ${trace.by} ${trace.act} ${trace.subject}`}
      disabled={undo.isPending}
      onClick={() => undo.mutate()}
    >
      Undo
    </Button>
  );
}

function Change({ change }: { change: Trace['changes'][number] }) {
  return (
    <span className="block text-[12px] leading-5">
      <span className="text-soft">{change.what}</span> {change.before && <del className="bg-badwash px-0.5 text-bad">{change.before}</del>}{' '}
      {change.after && <ins className="bg-who px-0.5 text-who-deep no-underline">{change.after}</ins>}
    </span>
  );
}

// What has a page of its own leads there, as far as it is of the site that one looks at.
function Subject({ trace }: { trace: Trace }) {
  const { site } = useDesk();
  const [kind, id] = trace.link.split('/');
  const words = <strong>{trace.subject}</strong>;
  if (trace.siteId !== site.id || !id) return words;
  if (kind === 'callout')
    return (
      <Link to="/callouts/$calloutId" params={{ calloutId: id }} className="hover:underline">
        {words}
      </Link>
    );
  if (kind === 'launcher')
    return (
      <Link to="/launchers/$launcherId" params={{ launcherId: id }} className="hover:underline">
        {words}
      </Link>
    );
  if (kind === 'event')
    return (
      <Link to="/ledger" search={{ panel: 'event', event: id }} className="hover:underline">
        {words}
      </Link>
    );
  return words;
}

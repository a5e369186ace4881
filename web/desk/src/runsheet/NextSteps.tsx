import { useQuery } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import type { ReactNode } from 'react';
import { calloutsQuery, sourcesQuery } from '../catalogue/api';
import { plural } from '../kit/plural';
import { useDesk } from '../session/desk';
import { stripQuery } from '../strip/api';

const LINK = 'font-semibold text-cobalt hover:underline max-sm:inline-flex max-sm:min-h-11 max-sm:items-center';

/** What a new site still needs before anything can show, and how far it is; nothing once all of it is there. */
export function NextSteps() {
  const { site } = useDesk();
  const { data: strip } = useQuery(stripQuery(site.id));
  const { data: sources } = useQuery(sourcesQuery(site.id));
  const { data: callouts } = useQuery(calloutsQuery(site.id));
  if (!strip || !sources || !callouts) return null;
  const isHeard = strip.heardAt !== null;
  if (isHeard && sources.length > 0 && callouts.length > 0) return null;
  return (
    <section aria-labelledby="next-steps" className="flex-none border-b border-ink bg-sheet px-4 py-3">
      <h2 id="next-steps" className="font-display text-[17px] font-semibold">
        Three steps until {site.name} speaks
      </h2>
      <ol className="mt-1 grid gap-x-6 md:grid-cols-3">
        <Step number={1} name="The line on the site" done={isHeard && 'The snippet was heard.'}>
          Its pages then stand here as lanes.{' '}
          <Link to="/install" className={LINK}>
            Install the snippet
          </Link>
        </Step>
        <Step number={2} name="What to listen to" done={sources.length > 0 && `${plural(sources.length, 'source')}.`}>
          Forms, orders, a file, a feed: what callouts tell comes from there.{' '}
          <Link to="/ledger" search={{ panel: 'add' }} className={LINK}>
            Add a source
          </Link>
        </Step>
        <Step number={3} name="A first callout" done={callouts.length > 0 && `${plural(callouts.length, 'callout')}.`}>
          It can be looked at before anything is installed.{' '}
          <Link to="/callouts" className={LINK}>
            Make a callout
          </Link>
        </Step>
      </ol>
    </section>
  );
}

function Step({ number, name, done, children }: { number: number; name: string; done: string | false; children: ReactNode }) {
  return (
    <li className="border-t border-hair py-2">
      <p className="flex items-center gap-2 font-semibold">
        <span
          aria-hidden="true"
          className={`grid h-5 w-5 place-items-center rounded-full border-[1.5px] border-ink text-[12px] ${done ? 'bg-marigold' : ''}`}
        >
          {done ? '✓' : number}
        </span>
        {name}
        <span className="font-normal text-soft">{done ? 'done' : 'to do'}</span>
      </p>
      <p className="mt-0.5 text-soft">{done || children}</p>
    </li>
  );
}

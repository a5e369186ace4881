import { useMutation } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import type { ReactNode } from 'react';
import { Button } from '../kit/Button';
import { ago, clock, day } from '../kit/time';
import { useNow } from '../kit/useNow';
import { useDesk } from '../session/desk';
import { type Install, makeVisitLink } from './api';

const LAMPS: Record<Install['state'], { words: string; lamp: string }> = {
  waiting: { words: 'Not heard yet', lamp: 'border-dashed' },
  heard: { words: 'The snippet is heard', lamp: 'bg-good' },
  stale: { words: 'Not heard for a day', lamp: 'bg-marigold' },
  wrongHost: { words: 'Heard from a wrong host', lamp: 'bg-bad' },
  blocked: { words: 'Loaded, but kept from speaking', lamp: 'bg-bad' },
};

/** How the snippet stands, why it may, and what to try. Changes by itself. */
export function HearingPane({ install, mayOpen }: { install: Install; mayOpen?: boolean }) {
  const now = useNow();
  const { words, lamp } = LAMPS[install.state];
  const desk = new URL(install.snippet.match(/src="([^"]+)"/)?.[1] ?? location.href).origin;
  return (
    <section className="grid content-start gap-4 p-6" aria-label="Is it heard?">
      <div role="status" className="flex items-center gap-3">
        <span aria-hidden="true" className={`h-6 w-6 flex-none rounded-full border-2 border-ink ${lamp}`} />
        <p className="font-display text-[18px] leading-6 font-semibold">{words}</p>
      </div>
      {install.heardAt && (
        <p>
          Last {ago(install.heardAt, now)} from
          <code className="block font-mono text-[12.5px] break-all">{install.heardPage}</code>
        </p>
      )}
      {mayOpen && <OpenSite />}
      <div className="border-t border-hair pt-4">
        <Causes install={install} now={now} desk={desk} inside={!!mayOpen} />
      </div>
      {install.hostsHeard.length > 0 && (
        <div className="border-t border-hair pt-4">
          <h2 className="mb-1 text-[15px]">By host</h2>
          <ul>
            {install.hostsHeard.map((host) => (
              <li key={host.host} className="flex items-baseline justify-between gap-2 border-t border-hair py-1">
                <code className="min-w-0 font-mono text-[12.5px] break-all">
                  {host.host}
                  {host.isTest && <span className="ms-2 font-sans text-[12px] text-soft">test</span>}
                </code>
                <span className="text-[12px] whitespace-nowrap">{host.heardAt && ago(host.heardAt, now)}</span>
              </li>
            ))}
          </ul>
        </div>
      )}
    </section>
  );
}

function Causes({ install, now, desk, inside }: { install: Install; now: number; desk: string; inside: boolean }) {
  switch (install.state) {
    case 'heard':
      return inside ? (
        <p className="text-soft">
          What next? Choose what to listen to on the{' '}
          <Link to="/ledger" search={{ panel: 'add' }} className="text-cobalt underline">
            ledger
          </Link>
          , or see what a visitor meets on the{' '}
          <Link to="/" className="text-cobalt underline">
            run sheet
          </Link>
          .
        </p>
      ) : (
        <p>It works. There is nothing more to do.</p>
      );
    case 'wrongHost':
      return (
        <List title="It speaks, and is not answered:">
          <li>
            <code className="font-mono text-[12.5px]">{install.refusedHost}</code> is not among the allowed hosts
            {install.refusedAt && ` (${ago(install.refusedAt, now)})`}.{' '}
            {inside ? 'Add it on the left if it is yours' : 'Ask for it to be added'}
            {inside && ', or as a test host if it is a copy'}.
          </li>
          <li>If it is not yours, somebody copied your page with the line in it; nothing is answered there.</li>
        </List>
      );
    case 'blocked':
      return (
        <List
          title={`A browser fetched the script ${install.fetchedAt ? ago(install.fetchedAt, now) : ''}${install.fetchedFrom ? ` on ${install.fetchedFrom}` : ''}, and then nothing was heard. Likely:`}
        >
          <li>
            A Content-Security-Policy lets the script in and not out: add <code className="font-mono text-[12.5px]">{desk}</code> to
            connect-src.
          </li>
          <li>A consent tool or an ad blocker in your own browser stops it: try a private window without extensions.</li>
          <li>The page is on another site key: compare the line in the page with the one here.</li>
        </List>
      );
    case 'stale':
      return (
        <List title="It was there and has fallen silent. Likely:">
          <li>A new theme, template or container was published without the line.</li>
          <li>The site moved to another host: add it to the allowed hosts.</li>
          <li>Nobody came. Open the site yourself and watch this page.</li>
        </List>
      );
    default:
      return (
        <List title="This turns green by itself with the first page view. If it does not:">
          <li>A cache may still serve the old page: clear the site's cache, then reload in a private window.</li>
          <li>An old tab shows an old page: reload it, or open a new one.</li>
          <li>
            The script was {install.fetchedAt ? 'fetched' : 'never fetched'}:{' '}
            {install.fetchedAt
              ? `last on ${day(install.fetchedAt)}, ${clock(install.fetchedAt)}`
              : 'the line is not in the page that browsers get, or script-src of a Content-Security-Policy keeps it out'}
            .
          </li>
        </List>
      );
  }
}

function List({ title, children }: { title: string; children: ReactNode }) {
  return (
    <>
      <h2 className="mb-1 text-[15px]">{title}</h2>
      <ol className="grid list-decimal gap-2 ps-5">{children}</ol>
    </>
  );
}

function OpenSite() {
  const { site } = useDesk();
  const open = useMutation({
    mutationFn: () => makeVisitLink(site.id),
    onSuccess: (link) => void window.open(link.url, '_blank', 'noopener'),
  });
  return (
    <div className="grid gap-1">
      <p>
        <Button onClick={() => open.mutate()} disabled={open.isPending}>
          Open my site
        </Button>
      </p>
      <p className="text-[12px] leading-4 text-soft">
        By a signed link: your browser then shows a small private note on the site that no visitor sees, and is not counted.
      </p>
      {open.data && (
        <p className="text-[12px] leading-4">
          Opened. If your browser held the window back,{' '}
          <a href={open.data.url} target="_blank" rel="noreferrer" className="text-cobalt underline">
            open it here
          </a>
          .
        </p>
      )}
    </div>
  );
}

import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { type FormEvent, useState } from 'react';
import { useDesk } from '../app/desk';
import { Refusal } from '../lib/api';
import { ago } from '../lib/time';
import { useNow } from '../lib/useNow';
import { mayAct } from '../session/model';
import { Button } from '../ui/Button';
import { Failed, Waiting } from '../ui/Notice';
import { installQuery, makeVisitLink, setHosts } from './api';
import { hearingOf } from './model';

/** The one line, where it goes, and whether it speaks. */
export function InstallPage() {
  const { site } = useDesk();
  const install = useQuery(installQuery(site.id));
  if (install.isError) return <Failed error={install.error} again={() => void install.refetch()} />;
  if (!install.data) return <Waiting>Fetching the snippet</Waiting>;
  const { snippet, hosts, heardAt, heardPage } = install.data;
  return (
    <div className="h-full overflow-auto">
      <div className="flex min-h-14 items-center border-b border-ink px-4">
        <h1 className="text-[22px] leading-7">Install</h1>
      </div>
      <div className="grid lg:min-h-[calc(100%-56px)] lg:grid-cols-[minmax(0,1fr)_400px]">
        <div className="grid content-start gap-8 bg-sheet p-6 lg:border-e lg:border-ink">
          <Snippet line={snippet} />
          <Hosts hosts={hosts} />
        </div>
        <Hearing heardAt={heardAt} heardPage={heardPage} hosts={hosts} />
      </div>
    </div>
  );
}

function Snippet({ line }: { line: string }) {
  const [copied, setCopied] = useState(false);
  async function copy() {
    await navigator.clipboard.writeText(line);
    setCopied(true);
    setTimeout(() => setCopied(false), 3000);
  }
  return (
    <section className="grid max-w-[720px] gap-3">
      <h2 className="text-[17px] leading-6">One line, once</h2>
      <p className="font-display text-[16px] leading-[26px]">
        Put this into every page of the site: in the head, or at the start or end of the body. All give the same result, and everything you
        make later appears without touching the site again.
      </p>
      <pre tabIndex={0} className="overflow-x-auto rounded border border-ink bg-paper p-3 font-mono text-[12.5px]">
        {line}
      </pre>
      <p className="flex items-center gap-3">
        <Button kind="primary" onClick={() => void copy()}>
          Copy the line
        </Button>
        <span role="status" className="font-semibold text-good">
          {copied && 'Copied'}
        </span>
      </p>
      <p className="text-soft">
        It loads beside the page and never blocks it, moves nothing, sets no cookies, and stays silent when the desk is away. To remove
        Outcry, delete the line; nothing else was changed.
      </p>
    </section>
  );
}

function Hosts({ hosts }: { hosts: string[] }) {
  const { site, member } = useDesk();
  const queries = useQueryClient();
  const save = useMutation({
    mutationFn: (next: string[]) => setHosts(site.id, next),
    onSuccess: () => void queries.invalidateQueries({ queryKey: ['install'] }),
  });
  const mayEdit = mayAct(member.role, 'owner');
  function add(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const input = event.currentTarget.elements.namedItem('host') as HTMLInputElement;
    if (input.value.trim()) save.mutate([...hosts, input.value.trim()], { onSuccess: () => (input.value = '') });
  }
  return (
    <section className="grid max-w-[720px] gap-2">
      <h2 className="text-[17px] leading-6">Allowed hosts</h2>
      <p className="text-soft">The snippet is answered on these and nowhere else. Changes reach the composer's stage after a reload.</p>
      <ul className="border-t border-hair">
        {hosts.map((host) => (
          <li key={host} className="flex min-h-9 items-center border-b border-hair">
            <code className="flex-1 font-mono text-[12.5px]">{host}</code>
            {mayEdit && hosts.length > 1 && (
              <Button kind="link" aria-label={`Remove ${host}`} onClick={() => save.mutate(hosts.filter((h) => h !== host))}>
                Remove
              </Button>
            )}
          </li>
        ))}
      </ul>
      {mayEdit ? (
        <form onSubmit={add} className="flex gap-2">
          <input
            name="host"
            aria-label="Another host"
            placeholder="shop.example or *.shop.example"
            className="w-72 max-w-full placeholder:text-soft"
          />
          <Button type="submit" disabled={save.isPending}>
            Add host
          </Button>
        </form>
      ) : (
        <p className="text-soft">Only owners change hosts.</p>
      )}
      {save.error instanceof Refusal && (
        <p role="alert" className="text-bad">
          {save.error.message}
        </p>
      )}
    </section>
  );
}

function Hearing({ heardAt, heardPage, hosts }: { heardAt: string | null; heardPage: string | null; hosts: string[] }) {
  const now = useNow();
  const hearing = hearingOf(heardAt, now);
  return (
    <section className="grid content-start gap-4 p-6" aria-label="Is it heard?">
      <div role="status" className="flex items-center gap-3">
        <span
          aria-hidden="true"
          className={`h-6 w-6 flex-none rounded-full border-2 border-ink ${hearing === 'heard' ? 'bg-good' : hearing === 'stale' ? 'bg-marigold' : 'border-dashed'}`}
        />
        <p className="font-display text-[18px] leading-6 font-semibold">
          {hearing === 'heard' ? 'The snippet is heard' : hearing === 'stale' ? 'Not heard for a day' : 'Not heard yet'}
        </p>
      </div>
      {heardAt && (
        <p>
          Last {ago(heardAt, now)} from
          <code className="block font-mono text-[12.5px] break-all">{heardPage}</code>
        </p>
      )}
      <OpenSite />
      {hearing === 'heard' ? (
        <p className="border-t border-hair pt-4 text-soft">
          What next? See what a visitor meets on the{' '}
          <Link to="/" className="text-cobalt underline">
            run sheet
          </Link>
          , or look at what came in on the{' '}
          <Link to="/ledger" className="text-cobalt underline">
            ledger
          </Link>
          .
        </p>
      ) : (
        <div className="border-t border-hair pt-4">
          <h2 className="mb-1 text-[15px]">This turns green by itself. If it does not:</h2>
          <ol className="grid list-decimal gap-2 ps-5">
            <li>A cache may still serve the old page: clear the site's cache, then reload in a private window.</li>
            <li>The page may be on another host than {hosts.join(', ')}: add it on the left.</li>
            <li>
              A Content-Security-Policy or a consent tool may block the script: allow this desk's address in script-src and connect-src.
            </li>
          </ol>
        </div>
      )}
    </section>
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
        By a signed link: your browser then shows a small private mark on the site that no visitor sees, and is not counted.
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

import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, useState } from 'react';
import { Button } from '../kit/Button';
import { CopyButton } from '../kit/Copy';
import { TextField } from '../kit/Field';
import { Failed, Waiting } from '../kit/Notice';
import { Refused } from '../kit/Panel';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { useTitle } from '../session/useTitle';
import { handOver, type Install, installQuery, makeInstallLink, setHosts } from './api';
import { HearingPane } from './HearingPane';
import { PageCheckForm } from './PageCheckForm';
import { SiteKeys } from './SiteKeys';
import { TrafficTable } from './TrafficTable';
import { WAYS } from './ways';

/** The one line, the ways to add it, whether it speaks, and where. */
export function InstallPage() {
  const { site } = useDesk();
  useTitle('Install');
  const install = useQuery(installQuery(site.id));
  if (install.isError) return <Failed page="Install" error={install.error} again={() => void install.refetch()} />;
  if (!install.data) return <Waiting page="Install">Fetching the snippet</Waiting>;
  return (
    <div className="h-full overflow-auto" tabIndex={0}>
      <div className="flex min-h-14 items-center border-b border-ink px-4">
        <h1 className="text-[22px] leading-7">Install</h1>
      </div>
      <div className="grid lg:min-h-[calc(100%-56px)] lg:grid-cols-[minmax(0,1fr)_400px]">
        <div className="grid content-start gap-8 bg-sheet p-6 lg:border-e lg:border-ink">
          <Snippet line={install.data.snippet} />
          <HandOver />
          <PageCheckForm home={install.data.homeAddress} />
          <Hosts install={install.data} />
          <SiteKeys />
          <TrafficTable />
        </div>
        <HearingPane install={install.data} mayOpen />
      </div>
    </div>
  );
}

/** The line, and the path of each way to add it. */
export function Snippet({ line }: { line: string }) {
  const [way, setWay] = useState('html');
  const chosen = WAYS.find((w) => w.id === way);
  return (
    <section className="grid max-w-[720px] gap-3">
      <h2 className="text-[17px] leading-6">One line, once</h2>
      <pre tabIndex={0} className="overflow-x-auto rounded border border-ink bg-paper p-3 font-mono text-[12.5px]">
        {line}
      </pre>
      <p>
        <CopyButton kind="primary" text={line}>
          Copy the line
        </CopyButton>
      </p>
      <fieldset>
        <legend className="mb-1 font-semibold">Where does it go? Into</legend>
        <div className="flex flex-wrap gap-x-5 gap-y-1">
          {WAYS.map((w) => (
            <label key={w.id} className="flex min-h-7 items-center gap-2">
              <input type="radio" name="way" checked={way === w.id} onChange={() => setWay(w.id)} />{' '}
              {w.name.charAt(0).toLowerCase() + w.name.slice(1)}
            </label>
          ))}
        </div>
      </fieldset>
      {chosen && (
        <div aria-live="polite">
          <ol className="grid list-decimal gap-1 ps-5 font-display text-[15px] leading-[26px]">
            {chosen.steps.map((step) => (
              <li key={step}>{step}</li>
            ))}
          </ol>
          {chosen.note && <p className="mt-1 text-soft">{chosen.note}</p>}
        </div>
      )}
      <details className="text-soft">
        <summary className="text-ink">What it does to the site, and how to take it off again</summary>
        <p className="mt-1">
          It loads beside the page and never blocks it, moves nothing, sets no cookies, and stays silent when the desk is away; about 6 KB.
          To remove Outcry, delete the line and clear the caches: nothing else of the site was changed, and browsers forget what they kept
          when their data is cleared. What was recorded stays here until you delete it.
        </p>
      </details>
    </section>
  );
}

function HandOver() {
  const { site, member } = useDesk();
  const mail = useMutation({ mutationFn: ({ to, note }: { to: string; note: string }) => handOver(site.id, to, note) });
  const link = useMutation({ mutationFn: () => makeInstallLink(site.id) });
  if (!mayAct(member, 'draft')) return null;
  function submit(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const typed = new FormData(event.currentTarget);
    mail.mutate({ to: String(typed.get('to')), note: String(typed.get('note')) });
  }
  return (
    <section className="grid max-w-[720px] gap-3">
      <h2 className="text-[17px] leading-6">Hand it to a developer</h2>
      <p className="text-soft">A mail with the line, its place, and a link under which they see whether it works. They need no account.</p>
      <form onSubmit={submit} className="grid gap-3 sm:grid-cols-[240px_minmax(0,1fr)_auto] sm:items-end">
        <TextField label="E-mail address" name="to" type="email" required autoComplete="off" />
        <TextField label="In your own words" name="note" maxLength={1000} />
        <Button type="submit" disabled={mail.isPending}>
          Send
        </Button>
      </form>
      <p role="status" className="text-good">
        {mail.isSuccess && 'Sent.'}
      </p>
      <Refused error={mail.error ?? link.error} />
      {link.data ? (
        <div className="flex flex-wrap items-center gap-2">
          <code className="min-w-0 flex-1 rounded border border-edge bg-paper p-2 font-mono text-[12.5px] break-all">{link.data.url}</code>
          <CopyButton text={link.data.url}>Copy the link</CopyButton>
        </div>
      ) : (
        <p>
          <Button kind="link" onClick={() => link.mutate()}>
            Or make the link alone, to send it yourself
          </Button>
        </p>
      )}
    </section>
  );
}

function Hosts({ install }: { install: Install }) {
  const { site, member } = useDesk();
  const queries = useQueryClient();
  const save = useMutation({
    mutationFn: ({ hosts, tests }: { hosts: string[]; tests: string[]; done?: () => void }) => setHosts(site.id, hosts, tests),
    onSuccess: (_, { done }) => {
      done?.();
      void queries.invalidateQueries({ queryKey: ['install'] });
    },
  });
  const mayEdit = mayAct(member, 'connect');
  const { hosts, testHosts } = install;
  return (
    <section className="grid max-w-[720px] gap-4">
      <HostList
        title="Allowed hosts"
        what="The snippet is answered on these and nowhere else; *.shop.example means every host below it."
        hosts={hosts}
        keepsOne
        mayEdit={mayEdit}
        onHosts={(next, done) => save.mutate({ hosts: next, tests: testHosts, done })}
      />
      <HostList
        title="Test hosts"
        what="A copy or preview of the site. What happens there is marked as a test, is never shown, and is counted apart."
        hosts={testHosts}
        mayEdit={mayEdit}
        onHosts={(next, done) => save.mutate({ hosts, tests: next, done })}
      />
      {!mayEdit && <p className="text-soft">Only owners change hosts.</p>}
      <Refused error={save.error} />
    </section>
  );
}

function HostList({
  title,
  what,
  hosts,
  keepsOne,
  mayEdit,
  onHosts,
}: {
  title: string;
  what: string;
  hosts: string[];
  keepsOne?: boolean;
  mayEdit: boolean;
  /** Saves them; what was typed goes from its field only once it is taken. */
  onHosts(hosts: string[], done?: () => void): void;
}) {
  function add(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const input = event.currentTarget.elements.namedItem('host') as HTMLInputElement;
    if (!input.value.trim()) return;
    onHosts([...hosts, input.value.trim()], () => {
      input.value = '';
    });
  }
  return (
    <div className="grid gap-2">
      <h2 className="text-[17px] leading-6">{title}</h2>
      <p className="text-soft">{what}</p>
      <ul className="border-t border-hair">
        {hosts.map((host) => (
          <li key={host} className="flex min-h-9 items-center border-b border-hair">
            <code className="flex-1 font-mono text-[12.5px]">{host}</code>
            {mayEdit && (!keepsOne || hosts.length > 1) && (
              <Button kind="link" aria-label={`Remove ${host}`} onClick={() => onHosts(hosts.filter((h) => h !== host))}>
                Remove
              </Button>
            )}
          </li>
        ))}
      </ul>
      {mayEdit && (
        <form onSubmit={add} className="flex gap-2">
          <input
            name="host"
            aria-label={`Another of the ${title.toLowerCase()}`}
            placeholder={keepsOne ? 'shop.example or *.shop.example' : 'preview.shop.example'}
            className="w-72 max-w-full placeholder:text-soft"
          />
          <Button type="submit">Add</Button>
        </form>
      )}
    </div>
  );
}

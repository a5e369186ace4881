import { useInfiniteQuery, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useNavigate, useSearch } from '@tanstack/react-router';
import { DropdownMenu } from 'radix-ui';
import { useEffect, useState } from 'react';
import { calloutsQuery } from '../catalogue/api';
import { say } from '../data/toasts';
import { Button } from '../kit/Button';
import { Failed, Waiting } from '../kit/Notice';
import { Refused } from '../kit/Panel';
import { PhraseMenu } from '../kit/PhraseMenu';
import { plural } from '../kit/plural';
import { ago } from '../kit/time';
import { useNow } from '../kit/useNow';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { useTitle } from '../session/useTitle';
import { exportAddress, type Lead, type LeadFilter, leadsQuery, tagLeads } from './api';
import { ImportPanel } from './ImportPanel';
import { LeadPanel } from './LeadPanel';
import { RewardsPanel } from './RewardsPanel';
import { StateMark } from './StateMark';
import { WebhooksPanel } from './WebhooksPanel';

/** People who said yes: who, to what, from where, how they stand. */
export function LeadsPage() {
  const { site, member } = useDesk();
  const search = useSearch({ from: '/leads' });
  const navigate = useNavigate({ from: '/leads' });
  const now = useNow(30_000);
  useTitle('Leads');
  const [typed, setTyped] = useState(search.words ?? '');
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const put = (change: Partial<typeof search>) => void navigate({ search: (before) => ({ ...before, ...change }), replace: true });
  useEffect(() => {
    const timer = setTimeout(() => {
      if (typed.trim() !== (search.words ?? '')) put({ words: typed.trim() || undefined });
    }, 250);
    return () => clearTimeout(timer);
  });
  const filter: LeadFilter = {
    words: search.words,
    state: search.state,
    tag: search.tag,
    callout: search.callout,
    tests: search.tests,
  };
  const leads = useInfiniteQuery(leadsQuery(site.id, filter));
  const { data: callouts } = useQuery(calloutsQuery(site.id));
  const prompts = (callouts ?? []).filter((c) => c.brief.kind === 'prompt');
  const first = leads.data?.pages[0];
  const rows = leads.data?.pages.flatMap((p) => p.leads) ?? [];
  const counts = first?.counts;
  const isFiltered = !!(search.words || search.state || search.tag || search.callout);
  return (
    <div className="flex h-full flex-col">
      <div className="grid flex-none gap-1 border-b border-ink px-4 py-2">
        <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
          <h1 className="text-[22px] leading-7">Leads</h1>
          <p className="font-display text-[16px] leading-7">
            Those who{' '}
            <PhraseMenu
              facet="when"
              label="How they stand"
              value={search.state ?? ''}
              choices={[
                ['', 'said yes'],
                ['confirmed', `may be written to${counts ? ` (${counts.confirmed})` : ''}`],
                ['waiting', `have not confirmed yet${counts ? ` (${counts.waiting})` : ''}`],
                ['withdrawn', `took it back${counts ? ` (${counts.withdrawn})` : ''}`],
                ['unreachable', `cannot be reached${counts ? ` (${counts.unreachable})` : ''}`],
              ]}
              onChoose={(state) => put({ state: (state || undefined) as LeadFilter['state'] })}
            />{' '}
            to{' '}
            <PhraseMenu
              facet="where"
              label="To which prompt"
              value={search.callout ?? ''}
              choices={[['', 'any prompt'], ...prompts.map((c) => [c.id, c.name] as const)]}
              onChoose={(callout) => put({ callout: callout || undefined })}
            />
            , tagged{' '}
            <PhraseMenu
              facet="who"
              label="Tag"
              value={search.tag ?? ''}
              choices={[['', 'with anything or nothing'], ...(first?.tags ?? []).map((t) => [t, t] as const)]}
              onChoose={(tag) => put({ tag: tag || undefined })}
            />
            .
          </p>
        </div>
        <div className="flex flex-wrap items-center gap-2">
          <input
            type="search"
            aria-label="Find a lead"
            placeholder="Address, number, name or prompt"
            value={typed}
            maxLength={200}
            className="w-72 max-sm:w-full"
            onChange={(e) => setTyped(e.currentTarget.value)}
          />
          <label className="flex min-h-7 items-center gap-2">
            <input type="checkbox" checked={!!search.tests} onChange={(e) => put({ tests: e.currentTarget.checked || undefined })} />
            with our own tries
          </label>
          <span className="ms-auto flex flex-wrap gap-2">
            {mayAct(member, 'see') && <Button onClick={() => void navigate({ to: '/followups' })}>Follow-ups</Button>}
            <Button onClick={() => put({ panel: search.panel === 'rewards' ? undefined : 'rewards', lead: undefined })}>Rewards</Button>
            {mayAct(member, 'connect') && (
              <Button onClick={() => put({ panel: search.panel === 'webhooks' ? undefined : 'webhooks', lead: undefined })}>
                Webhooks
              </Button>
            )}
            {mayAct(member, 'publish') && (
              <Button onClick={() => put({ panel: search.panel === 'import' ? undefined : 'import', lead: undefined })}>Import</Button>
            )}
            <ExportMenu filter={filter} />
          </span>
        </div>
      </div>
      <div className="relative flex min-h-0 flex-1">
        <div className="min-w-0 flex-1 overflow-auto bg-sheet" tabIndex={0} role="region" aria-label="The table of leads">
          {leads.isError ? (
            <Failed error={leads.error} again={() => void leads.refetch()} />
          ) : !leads.data ? (
            <Waiting>Fetching the leads</Waiting>
          ) : rows.length === 0 ? (
            <Empty isFiltered={isFiltered} hasPrompts={prompts.length > 0} onClear={() => void navigate({ search: {}, replace: true })} />
          ) : (
            <table className="w-full text-start">
              <thead className="sticky top-0 z-10 bg-sheet text-[12px] text-soft">
                <tr className="border-b border-ink">
                  <th className="w-9 px-3 py-1.5">
                    <span className="sr-only">Choose</span>
                  </th>
                  <th className="px-2 text-start font-medium">Who</th>
                  <th className="px-2 text-start font-medium">How they stand</th>
                  <th className="px-2 text-start font-medium max-md:hidden">Said yes to</th>
                  <th className="px-2 text-start font-medium max-lg:hidden">Tags</th>
                  <th className="px-4 text-end font-medium">Last change</th>
                </tr>
              </thead>
              <tbody>
                {rows.map((lead) => (
                  <Row
                    key={lead.id}
                    lead={lead}
                    now={now}
                    isOpen={search.lead === lead.id}
                    isChosen={chosen.has(lead.id)}
                    onOpen={() => put({ lead: search.lead === lead.id ? undefined : lead.id, panel: undefined })}
                    onChoose={(on) => {
                      const next = new Set(chosen);
                      next[on ? 'add' : 'delete'](lead.id);
                      setChosen(next);
                    }}
                  />
                ))}
              </tbody>
            </table>
          )}
          {leads.hasNextPage && (
            <p className="p-3 text-center">
              <Button disabled={leads.isFetchingNextPage} onClick={() => void leads.fetchNextPage()}>
                Fetch more
              </Button>
            </p>
          )}
          {chosen.size > 0 && <TagBar chosen={[...chosen]} onDone={() => setChosen(new Set())} />}
        </div>
        {search.panel === 'rewards' && <RewardsPanel onClose={() => put({ panel: undefined })} />}
        {search.panel === 'import' && <ImportPanel onClose={() => put({ panel: undefined })} />}
        {search.panel === 'webhooks' && <WebhooksPanel onClose={() => put({ panel: undefined })} />}
        {!search.panel && search.lead && <LeadPanel key={search.lead} leadId={search.lead} onClose={() => put({ lead: undefined })} />}
      </div>
    </div>
  );
}

function Row({
  lead,
  now,
  isOpen,
  isChosen,
  onOpen,
  onChoose,
}: {
  lead: Lead;
  now: number;
  isOpen: boolean;
  isChosen: boolean;
  onOpen(): void;
  onChoose(on: boolean): void;
}) {
  const who = lead.email ?? lead.phone ?? (lead.name || 'without an address');
  return (
    <tr className={`border-b border-hair ${isOpen ? 'bg-selectwash' : 'hover:bg-sheet2'}`} aria-selected={isOpen}>
      <td className="px-3 py-1.5">
        <input type="checkbox" aria-label={`Choose ${who}`} checked={isChosen} onChange={(e) => onChoose(e.currentTarget.checked)} />
      </td>
      <td className="max-w-[280px] px-2 py-1.5">
        <button type="button" className="block max-w-full truncate text-start font-semibold hover:underline" onClick={onOpen}>
          {who}
        </button>
        <span className="block truncate text-[12px] leading-4 text-soft">
          {[lead.name, lead.email && lead.phone, lead.place, lead.isTest && 'a try of our own'].filter(Boolean).join(', ')}
        </span>
      </td>
      <td className="px-2 whitespace-nowrap">
        <StateMark state={lead.state} />
      </td>
      <td className="max-w-[260px] truncate px-2 max-md:hidden">
        {lead.from}
        {lead.campaign && <span className="text-soft">, by {lead.campaign}</span>}
      </td>
      <td className="max-w-[200px] truncate px-2 text-soft max-lg:hidden">{lead.tags.join(', ')}</td>
      <td className="px-4 text-end whitespace-nowrap text-soft">{ago(lead.changedAt, now)}</td>
    </tr>
  );
}

function Empty({ isFiltered, hasPrompts, onClear }: { isFiltered: boolean; hasPrompts: boolean; onClear(): void }) {
  return (
    <div className="grid max-w-[560px] gap-2 p-6">
      {isFiltered ? (
        <>
          <p className="font-semibold">Nobody here is so.</p>
          <p>
            <Button onClick={onClear}>Show all leads</Button>
          </p>
        </>
      ) : (
        <>
          <p className="font-semibold">Nobody has said yes yet.</p>
          <p className="text-soft">
            {hasPrompts
              ? 'Leads come in where a prompt is live. Try it with your own address: it stands here as a try of your own.'
              : 'Leads come from prompts. Begin one under Callouts: it asks for an address, says what for, and asks nobody twice.'}
          </p>
        </>
      )}
    </div>
  );
}

function TagBar({ chosen, onDone }: { chosen: string[]; onDone(): void }) {
  const { site } = useDesk();
  const queries = useQueryClient();
  const [tag, setTag] = useState('');
  const put = useMutation({
    mutationFn: (takes: boolean) => tagLeads(site.id, chosen, tag, takes),
    onSuccess: (_, takes) => {
      void queries.invalidateQueries({ queryKey: ['leads'] });
      say(`${plural(chosen.length, 'lead')} ${takes ? 'lost the tag' : 'tagged'} ${tag}.`);
      onDone();
    },
  });
  return (
    <form
      className="sticky bottom-0 flex flex-wrap items-center gap-2 border-t border-ink bg-sheet px-4 py-2"
      onSubmit={(e) => {
        e.preventDefault();
        put.mutate(false);
      }}
    >
      <span role="status">{plural(chosen.length, 'lead')} chosen</span>
      <input aria-label="Tag" placeholder="letters" value={tag} maxLength={30} onChange={(e) => setTag(e.currentTarget.value)} />
      <Button type="submit" disabled={!tag.trim() || put.isPending}>
        Tag them
      </Button>
      <Button disabled={!tag.trim() || put.isPending} onClick={() => put.mutate(true)}>
        Take the tag off
      </Button>
      <Button kind="link" onClick={onDone}>
        Choose none
      </Button>
      <Refused error={put.error} />
    </form>
  );
}

function ExportMenu({ filter }: { filter: LeadFilter }) {
  const { site } = useDesk();
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger asChild>
        <Button>Export</Button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" sideOffset={6} className="z-50 min-w-52 rounded border border-ink bg-sheet p-1 shadow-lg">
          {(
            [
              ['csv', 'What is listed, as CSV'],
              ['vcf', 'What is listed, as vCards'],
            ] as const
          ).map(([format, words]) => (
            <DropdownMenu.Item key={format} asChild>
              <a
                href={exportAddress(site.id, format, filter)}
                download={`leads.${format}`}
                className="flex min-h-8 items-center rounded px-2 outline-none data-[highlighted]:bg-selectwash"
              >
                {words}
              </a>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

import { useQuery } from '@tanstack/react-query';
import { useNavigate, useSearch } from '@tanstack/react-router';
import { useEffect, useRef, useState } from 'react';
import { useTurnedTo } from '../data/people';
import { Button } from '../kit/Button';
import { isTyping } from '../kit/keys';
import { Failed, Waiting } from '../kit/Notice';
import { PhraseMenu } from '../kit/PhraseMenu';
import { groupsQuery } from '../session/answering';
import { useDesk } from '../session/desk';
import { useTitle } from '../session/useTitle';
import { countsQuery, type Queue, talkQuery } from './api';
import { ContextPane } from './ContextPane';
import { QueueList } from './QueueList';
import { RepliesPanel } from './RepliesPanel';
import type { ReplyHandle } from './ReplyBox';
import { TalkPane } from './TalkPane';

const KEYS = [
  ['J, K', 'next, previous talk'],
  ['R', 'reply'],
  ['N', 'note to the team'],
  ['/', 'saved replies, within a reply'],
  ['Ctrl Enter', 'send'],
] as const;

/** The inbox: queues at the left, one talk in the middle, who it is at the right. */
export function InboxPage() {
  const { site, workspace } = useDesk();
  const { data: groups } = useQuery(groupsQuery(workspace.id));
  const search = useSearch({ from: '/inbox' });
  const navigate = useNavigate({ from: '/inbox' });
  const queue: Queue = search.queue ?? 'open';
  const reply = useRef<ReplyHandle>(null);
  const [typed, setTyped] = useState(search.words ?? '');
  useTitle('Inbox');
  useTurnedTo(search.talk ? `talk:${search.talk}` : '');
  const { data: counts } = useQuery(countsQuery(site.id));
  const put = (change: Partial<typeof search>) => void navigate({ search: (before) => ({ ...before, ...change }), replace: true });
  useEffect(() => {
    const timer = setTimeout(() => {
      if (typed.trim() !== (search.words ?? '')) put({ words: typed.trim() || undefined });
    }, 250);
    return () => clearTimeout(timer);
  });
  useEffect(() => {
    function key(event: KeyboardEvent) {
      if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
      const rows = [...document.querySelectorAll<HTMLElement>('[data-talk]')];
      const at = rows.findIndex((r) => r.dataset.talk === search.talk);
      if (event.key === 'j' || event.key === 'k') rows[Math.max(0, Math.min(rows.length - 1, at + (event.key === 'j' ? 1 : -1)))]?.click();
      else if (event.key === 'r' || event.key === 'n') reply.current?.focus(event.key === 'n');
      else return;
      event.preventDefault();
    }
    addEventListener('keydown', key);
    return () => removeEventListener('keydown', key);
  }, [search.talk]);
  const choices: readonly (readonly [Queue, string])[] = [
    ['open', `open${counts ? ` (${counts.mine + counts.unclaimed + counts.others})` : ''}`],
    ['mine', `mine${counts ? ` (${counts.mine})` : ''}`],
    ['unclaimed', `unclaimed${counts ? ` (${counts.unclaimed})` : ''}`],
    ['others', `with others${counts ? ` (${counts.others})` : ''}`],
    ['snoozed', `snoozed${counts ? ` (${counts.snoozed})` : ''}`],
    ['closed', 'closed'],
    ['all', 'all'],
    ['blocked', 'of blocked visitors'],
  ];
  return (
    <div className="relative flex h-full">
      <div
        className={`flex w-[288px] flex-none flex-col border-e border-ink bg-sheet2 max-md:w-full ${search.talk ? 'max-md:hidden' : ''}`}
      >
        <div className="grid flex-none gap-2 border-b border-ink px-4 py-2.5">
          <div className="flex items-baseline gap-3">
            <h1 className="text-[22px] leading-7">Inbox</h1>
            <span className="font-display text-[16px]">
              <PhraseMenu
                facet="where"
                label="Talks"
                value={queue}
                choices={choices}
                onChoose={(v) => put({ queue: v === 'open' ? undefined : v })}
              />
            </span>
          </div>
          <input
            type="search"
            aria-label="Find words in talks"
            placeholder="Find words, in any form"
            value={typed}
            maxLength={200}
            onChange={(e) => setTyped(e.currentTarget.value)}
            className="placeholder:text-soft"
          />
          <label className="flex items-center gap-2">
            <input type="checkbox" checked={!!search.waits} onChange={(e) => put({ waits: e.currentTarget.checked || undefined })} />
            Only where somebody waits
          </label>
          {!!groups?.length && (
            <p className="flex items-baseline gap-2">
              For
              <PhraseMenu
                facet="who"
                label="Talks for"
                value={search.group ?? ''}
                choices={[['', 'whomever'] as const, ...groups.map((g) => [g.id, `${g.name} and everybody`] as const)]}
                onChoose={(v) => put({ group: v || undefined })}
              />
            </p>
          )}
        </div>
        <div className="min-h-0 flex-1 overflow-auto" role="region" aria-label="Queue" tabIndex={0}>
          <QueueList
            queue={queue}
            words={search.words ?? ''}
            waiting={!!search.waits}
            group={search.group ?? ''}
            chosen={search.talk}
            onChoose={(talk) => put({ talk })}
          />
        </div>
        <div className="flex flex-none flex-wrap items-center gap-x-4 border-t border-hair px-4 py-1.5">
          <Button kind="link" onClick={() => put({ panel: 'replies' })}>
            Saved replies
          </Button>
          <Button kind="link" onClick={() => window.open(site.homeAddress, 'outcry-visitor', 'width=480,height=820')}>
            Talk with yourself
          </Button>
        </div>
      </div>
      {search.talk ? (
        <OneTalk key={search.talk} talkId={search.talk} reply={reply} onBack={() => put({ talk: undefined })} />
      ) : (
        <div className="grid flex-1 content-center justify-items-center gap-3 p-6 max-md:hidden">
          <p className="text-soft">Choose a talk. Whoever answers it first has it.</p>
          <dl className="grid grid-cols-[auto_auto] gap-x-4 gap-y-1 text-[12px]">
            {KEYS.map(([key, what]) => (
              <div key={key} className="contents">
                <dt className="text-end font-mono">{key}</dt>
                <dd className="text-soft">{what}</dd>
              </div>
            ))}
          </dl>
        </div>
      )}
      {search.panel === 'replies' && <RepliesPanel onClose={() => put({ panel: undefined })} />}
    </div>
  );
}

function OneTalk({ talkId, reply, onBack }: { talkId: string; reply: React.RefObject<ReplyHandle | null>; onBack(): void }) {
  const { site } = useDesk();
  const talk = useQuery(talkQuery(site.id, talkId));
  if (talk.isError)
    return (
      <div className="flex-1">
        <Failed error={talk.error} again={() => void talk.refetch()} />
      </div>
    );
  if (!talk.data)
    return (
      <div className="flex-1">
        <Waiting>Fetching the talk</Waiting>
      </div>
    );
  return (
    <>
      <TalkPane detail={talk.data} reply={reply} onBack={onBack} />
      <ContextPane detail={talk.data} />
    </>
  );
}

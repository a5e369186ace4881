import { useInfiniteQuery, useQuery } from '@tanstack/react-query';
import { Button } from '../kit/Button';
import { Failed, Waiting } from '../kit/Notice';
import { clock, day } from '../kit/time';
import { useNow } from '../kit/useNow';
import { groupName, groupsQuery } from '../session/answering';
import { useDesk } from '../session/desk';
import { type Queue, type Talk, talksQuery } from './api';

/** A talk's moment: the time today, else the day. */
const when = (at: string, now: number) => (now - Date.parse(at) < 20 * 3_600_000 ? clock(at) : day(at));

function waits(since: string, now: number): string {
  const minutes = Math.floor((now - Date.parse(since)) / 60_000);
  return minutes < 1 ? 'waits' : minutes < 90 ? `waits ${minutes} min` : `waits ${Math.floor(minutes / 60)} h`;
}

const groupsOf = (talks: readonly Talk[], me: string): [string, Talk[]][] =>
  (
    [
      ['Yours', talks.filter((t) => t.state === 'claimed' && t.memberId === me)],
      ['Unclaimed', talks.filter((t) => t.state === 'unclaimed')],
      ['Others answer', talks.filter((t) => t.state === 'claimed' && t.memberId !== me)],
      ['Snoozed', talks.filter((t) => t.state === 'snoozed')],
      ['Closed', talks.filter((t) => t.state === 'closed')],
    ] satisfies [string, Talk[]][]
  ).filter(([, group]) => group.length > 0);

/** The talks of a queue, grouped by whose they are; the arrow keys go from one to the next. */
export function QueueList({
  queue,
  words,
  waiting,
  group,
  chosen,
  onChoose,
}: {
  queue: Queue;
  words: string;
  waiting: boolean;
  group: string;
  chosen: string | undefined;
  onChoose(id: string): void;
}) {
  const { site, member, workspace } = useDesk();
  const { data: groups } = useQuery(groupsQuery(workspace.id));
  const now = useNow(15_000);
  const list = useInfiniteQuery(talksQuery(site.id, queue, words, waiting, group));
  if (list.isError) return <Failed error={list.error} again={() => void list.refetch()} />;
  if (!list.data) return <Waiting>Fetching the talks</Waiting>;
  const talks = list.data.pages.flatMap((p) => p.talks);
  if (talks.length === 0)
    return (
      <div className="grid gap-2 p-4">
        <p className="font-semibold">{words ? 'No talk has these words.' : 'No talk stands here.'}</p>
        {!words && queue === 'open' && (
          <p className="text-soft">
            Talks begin where a launcher offers chat on the page. Open your site beside this window and write to yourself to see one.
          </p>
        )}
      </div>
    );
  return (
    <nav
      aria-label="Talks"
      onKeyDown={(event) => {
        if (event.key !== 'ArrowDown' && event.key !== 'ArrowUp') return;
        const rows = [...event.currentTarget.querySelectorAll<HTMLElement>('[data-talk]')];
        const next = rows[rows.indexOf(event.target as HTMLElement) + (event.key === 'ArrowDown' ? 1 : -1)];
        next?.focus();
        if (next) event.preventDefault();
      }}
    >
      {groupsOf(talks, member.id).map(([title, group]) => (
        <section key={title} aria-label={title}>
          <h2 className="border-b border-hair px-4 pt-3 pb-2 font-sans text-[12px] font-semibold tracking-normal text-soft">{title}</h2>
          {group.map((talk) => (
            <Row
              key={talk.id}
              talk={talk}
              group={groupName(groups, talk.groupId)}
              now={now}
              isChosen={talk.id === chosen}
              onChoose={() => onChoose(talk.id)}
            />
          ))}
        </section>
      ))}
      {list.hasNextPage && (
        <p className="p-3">
          <Button disabled={list.isFetchingNextPage} onClick={() => void list.fetchNextPage()}>
            Older ones
          </Button>
        </p>
      )}
    </nav>
  );
}

function Row({
  talk,
  group,
  now,
  isChosen,
  onChoose,
}: {
  talk: Talk;
  group: string | undefined;
  now: number;
  isChosen: boolean;
  onChoose(): void;
}) {
  const isUrgent = talk.urgency !== 'none';
  return (
    <button
      type="button"
      data-talk={talk.id}
      aria-current={isChosen ? 'true' : undefined}
      onClick={onChoose}
      className={`grid w-full gap-0.5 border-b border-hair py-2.5 pe-4 text-start ${
        isChosen ? 'border-s-4 border-s-cobalt bg-sheet ps-3' : 'ps-4 hover:bg-sheet2'
      }`}
    >
      <span className="flex items-baseline gap-2">
        <span className={`min-w-0 flex-1 truncate ${talk.isUnread ? 'font-bold' : 'font-semibold'}`}>{talk.title}</span>
        <time className="text-[12px] text-soft" dateTime={talk.lastAt}>
          {when(talk.lastAt, now)}
        </time>
      </span>
      <span dir="auto" className={`truncate ${talk.isUnread ? 'font-semibold' : 'text-soft'}`}>
        {talk.glimpse}
      </span>
      <span className={`truncate text-[12px] leading-4 ${isUrgent ? 'font-semibold text-bad' : 'text-soft'}`}>
        {talk.isTest && 'a try of your own, '}
        {group && talk.state === 'unclaimed' && `for ${group}, `}
        {talk.waitingSince && (isUrgent || talk.state === 'unclaimed')
          ? waits(talk.waitingSince, now)
          : talk.state === 'claimed'
            ? `with ${talk.member ?? 'a colleague'}`
            : talk.state === 'snoozed' && talk.snoozedUntil
              ? `until ${day(talk.snoozedUntil)}, ${clock(talk.snoozedUntil)}`
              : talk.launcher || talk.state}
        {talk.tags.length > 0 && `, ${talk.tags.join(', ')}`}
        {talk.isUnread && <span className="sr-only">, unread</span>}
      </span>
    </button>
  );
}

import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { DropdownMenu } from 'radix-ui';
import type { ReactNode } from 'react';
import { say } from '../data/toasts';
import { Button } from '../kit/Button';
import { answeringQuery, groupName, groupsQuery } from '../session/answering';
import { useDesk } from '../session/desk';
import { assignTalk, blockVisitor, closeTalk, reopenTalk, snoozeTalk, type Talk, type TalkDetail, talkQuery } from './api';

const REASONS = ['answered', 'nothing to do', 'no reply came', 'spam'] as const;

/** Tomorrow and so on at nine, in the reader's own time. */
function at(days: number, hour: number): Date {
  const moment = new Date();
  moment.setDate(moment.getDate() + days);
  moment.setHours(hour, 0, 0, 0);
  return moment;
}

const SNOOZES: readonly (readonly [string, () => Date])[] = [
  ['for an hour', () => new Date(Date.now() + 3_600_000)],
  ['for three hours', () => new Date(Date.now() + 3 * 3_600_000)],
  ['until tomorrow, 9:00', () => at(1, 9)],
  ['until next Monday, 9:00', () => at((8 - new Date().getDay()) % 7 || 7, 9)],
  ['for a week', () => at(7, 9)],
];

/** What can be done with a talk: given to somebody, put off, ended, opened again. */
export function TalkActs({ talk }: { talk: Talk }) {
  const { site, member, workspace } = useDesk();
  const { data: groups } = useQuery(groupsQuery(workspace.id));
  const queries = useQueryClient();
  const { data: answering } = useQuery(answeringQuery(site.id));
  const act = useMutation({
    mutationFn: (run: () => Promise<TalkDetail>) => run(),
    onSuccess: (next) => {
      queries.setQueryData(talkQuery(site.id, talk.id).queryKey, next);
      for (const key of ['talks', 'talk-counts', 'answering']) void queries.invalidateQueries({ queryKey: [key] });
    },
  });
  const isMine = talk.state === 'claimed' && talk.memberId === member.id;
  const close = (reason: string) =>
    act.mutate(async () => {
      const next = await closeTalk(site.id, talk.id, reason);
      say('The talk is closed.', { act: { words: 'Open it again', run: () => act.mutate(() => reopenTalk(site.id, talk.id)) } });
      return next;
    });
  return (
    <div className="flex flex-wrap items-center gap-2">
      <span className="text-[13px] font-medium">
        {isMine
          ? 'Yours'
          : talk.state === 'unclaimed'
            ? (groupName(groups, talk.groupId) ?? 'Nobody’s yet')
            : talk.state === 'closed'
              ? 'Closed'
              : talk.member}
      </span>
      {talk.state === 'closed' ? (
        <Button disabled={act.isPending} onClick={() => act.mutate(() => reopenTalk(site.id, talk.id))}>
          Open again
        </Button>
      ) : (
        <>
          <Menu label="Assign">
            <Item onDo={() => act.mutate(() => assignTalk(site.id, talk.id, { memberId: null, inTurn: true, note: '', groupId: null }))}>
              whose turn it is
            </Item>
            {answering?.map((m) => (
              <Item
                key={m.id}
                onDo={() => act.mutate(() => assignTalk(site.id, talk.id, { memberId: m.id, inTurn: false, note: '', groupId: null }))}
              >
                {m.id === member.id ? 'me' : m.name}
                <span className="ms-auto ps-4 text-[12px] text-soft">
                  {m.isThere ? 'here' : 'away'}
                  {m.openTalks > 0 && `, has ${m.openTalks}`}
                </span>
              </Item>
            ))}
            {groups?.map((g) => (
              <Item
                key={g.id}
                onDo={() => act.mutate(() => assignTalk(site.id, talk.id, { memberId: null, inTurn: false, note: '', groupId: g.id }))}
              >
                {g.name}
                <span className="ms-auto ps-4 text-[12px] text-soft">group</span>
              </Item>
            ))}
            {(talk.state !== 'unclaimed' || talk.groupId) && (
              <Item onDo={() => act.mutate(() => assignTalk(site.id, talk.id, { memberId: null, inTurn: false, note: '', groupId: null }))}>
                everybody again
              </Item>
            )}
          </Menu>
          <Menu label="Snooze">
            {SNOOZES.map(([words, until]) => (
              <Item key={words} onDo={() => act.mutate(() => snoozeTalk(site.id, talk.id, until().toISOString()))}>
                {words}
              </Item>
            ))}
          </Menu>
          <Menu label="Close">
            {REASONS.map((reason) => (
              <Item key={reason} onDo={() => close(reason)}>
                {reason}
              </Item>
            ))}
            <Item onDo={() => close('')}>without a reason</Item>
          </Menu>
        </>
      )}
      <Menu label="More">
        <Item onDo={() => act.mutate(() => blockVisitor(site.id, talk.id, !talk.isBlocked))}>
          {talk.isBlocked ? 'Hear this visitor again' : 'Block this visitor, who is not told'}
        </Item>
      </Menu>
    </div>
  );
}

function Menu({ label, children }: { label: string; children: ReactNode }) {
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger asChild>
        <Button>{label}</Button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={6}
          className="z-50 max-h-[60vh] min-w-52 overflow-auto rounded border border-ink bg-sheet p-1 shadow-lg"
        >
          {children}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

function Item({ onDo, children }: { onDo(): void; children: ReactNode }) {
  return (
    <DropdownMenu.Item
      onSelect={onDo}
      className="flex min-h-8 cursor-pointer items-center rounded px-2 outline-none data-[highlighted]:bg-selectwash"
    >
      {children}
    </DropdownMenu.Item>
  );
}

import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Check } from 'lucide-react';
import { useState } from 'react';
import { usePeople } from '../data/people';
import { say } from '../data/toasts';
import { Button } from '../kit/Button';
import { Refused } from '../kit/Panel';
import { ReadPhrase } from '../kit/Phrase';
import { PhraseMenu } from '../kit/PhraseMenu';
import { ago, day } from '../kit/time';
import { useNow } from '../kit/useNow';
import type { Role } from '../session/api';
import { useDesk } from '../session/desk';
import { mayAct, ROLE_WORDS } from '../session/model';
import { inviteAgain, removeMember, setRole, type Team, type TeamMember, withdraw } from './api';
import { Face } from './Face';
import { GroupsSection } from './GroupsSection';
import { HabitsSentence } from './HabitsSentence';

const ROLES = (['owner', 'publisher', 'editor', 'responder', 'viewer'] as const).map((r) => [r, ROLE_WORDS[r]] as const);

/** Who is in the workspace, who is asked, who may do what, and what was agreed on. */
export function MembersPane({ team }: { team: Team }) {
  return (
    <aside aria-label="Members" className="grid grid-cols-[minmax(0,1fr)] content-start gap-6 p-4">
      <section className="grid grid-cols-[minmax(0,1fr)]">
        <h2 className="flex items-baseline gap-2 pb-2 text-[16px] leading-6">
          Members{' '}
          <span className="font-sans text-[12px] font-normal tracking-normal text-soft">
            {team.members.length}
            {team.invitations.length > 0 && `, and ${team.invitations.length} invited`}
          </span>
        </h2>
        <ul>
          {team.members.map((m) => (
            <Member key={m.id} row={m} />
          ))}
          {team.invitations.map((i) => (
            <Invited key={i.id} invitation={i} />
          ))}
        </ul>
      </section>
      <GroupsSection team={team} />
      <Table team={team} />
      <section className="grid gap-2">
        <h2 className="text-[16px] leading-6">House habits</h2>
        <HabitsSentence habits={team.habits} />
      </section>
    </aside>
  );
}

function Member({ row }: { row: TeamMember }) {
  const { member, workspace } = useDesk();
  const queries = useQueryClient();
  const now = useNow(30_000);
  const [leaving, setLeaving] = useState(false);
  const people = usePeople();
  const isHere = row.isHere || row.id === member.id || people.all.some((p) => p.memberId === row.id);
  const again = () => queries.invalidateQueries({ queryKey: ['team', workspace.id] });
  const change = useMutation({
    mutationFn: (role: Role) => setRole(workspace.id, row.id, role),
    onSuccess: async () => {
      await again();
      if (row.id === member.id) location.reload();
    },
  });
  const remove = useMutation({
    mutationFn: () => removeMember(workspace.id, row.id),
    onSuccess: async () => {
      await again();
      say(`${row.name} is no longer a member. Their work stays.`);
    },
  });
  const governs = mayAct(member, 'govern');
  return (
    <li className="border-t border-hair py-2">
      <div className="flex items-center gap-3">
        <Face name={row.name} isSelf={row.id === member.id} />
        <span className="min-w-0 flex-1">
          <span className="block overflow-hidden font-semibold text-ellipsis">{row.name}</span>
          <span className="block overflow-hidden text-[12px] leading-4 text-ellipsis text-soft">{row.email}</span>
        </span>
        <span className="w-[100px] flex-none font-display text-[14px]">
          {governs ? (
            <PhraseMenu
              facet="who"
              label={`Role of ${row.name}`}
              value={row.role}
              choices={ROLES}
              onChoose={(role) => change.mutate(role)}
            />
          ) : (
            <ReadPhrase facet="who">{ROLE_WORDS[row.role]}</ReadPhrase>
          )}
        </span>
        <span className="grid w-[76px] justify-items-end text-[12px] leading-4 text-soft">
          {isHere ? 'here' : row.seenAt ? ago(row.seenAt, now) : 'away'}
          {row.hasFactor && <span>second factor</span>}
          {governs && row.id !== member.id && !leaving && (
            <Button kind="link" className="!min-h-6 text-[12px]" aria-label={`Remove ${row.name}`} onClick={() => setLeaving(true)}>
              Remove
            </Button>
          )}
        </span>
      </div>
      {leaving && (
        <p className="flex flex-wrap items-center gap-2 ps-10 pt-1">
          <span>Their sessions end at once; their work stays.</span>
          <Button kind="danger" onClick={() => remove.mutate()} disabled={remove.isPending}>
            Remove {row.name}
          </Button>
          <Button onClick={() => setLeaving(false)}>Cancel</Button>
        </p>
      )}
      <Refused error={change.error ?? remove.error} />
    </li>
  );
}

function Invited({ invitation }: { invitation: Team['invitations'][number] }) {
  const { member, workspace } = useDesk();
  const queries = useQueryClient();
  const again = () => queries.invalidateQueries({ queryKey: ['team', workspace.id] });
  const resend = useMutation({
    mutationFn: () => inviteAgain(workspace.id, invitation.id),
    onSuccess: async (made) => {
      await again();
      await navigator.clipboard?.writeText(made.link).catch(() => undefined);
      say(
        made.mailed
          ? `A new link went to ${invitation.email}.`
          : 'No mail server took it. The new link is in your clipboard: send it yourself.',
      );
    },
  });
  const undo = useMutation({ mutationFn: () => withdraw(workspace.id, invitation.id), onSuccess: again });
  const isOver = Date.parse(invitation.endsAt) < Date.now();
  return (
    <li className="border-t border-hair py-2">
      <div className="flex items-center gap-3">
        <Face name={invitation.email} isInvited />
        <span className="min-w-0 flex-1">
          <span className="block overflow-hidden font-semibold text-ellipsis">{invitation.email}</span>
          <span className={`block text-[12px] leading-4 ${isOver ? 'text-warn' : 'text-soft'}`}>
            invited by {invitation.invitedBy}, {isOver ? 'ended' : 'ends'} {day(invitation.endsAt)}
          </span>
        </span>
        <span className="w-[100px] flex-none font-display text-[14px]">
          <ReadPhrase facet="who">{ROLE_WORDS[invitation.role]}</ReadPhrase>
        </span>
        <span className="grid w-[76px] justify-items-end">
          {mayAct(member, 'govern') && (
            <>
              <Button
                kind="link"
                className="!min-h-6 text-[12px]"
                aria-label={`Send again to ${invitation.email}`}
                onClick={() => resend.mutate()}
                disabled={resend.isPending}
              >
                Send again
              </Button>
              <Button
                kind="link"
                className="!min-h-6 text-[12px]"
                aria-label={`Withdraw the invitation of ${invitation.email}`}
                onClick={() => undo.mutate()}
              >
                Withdraw
              </Button>
            </>
          )}
        </span>
      </div>
      <Refused error={resend.error ?? undo.error} />
    </li>
  );
}

function Table({ team }: { team: Team }) {
  return (
    <section className="grid gap-1">
      <h2 className="text-[16px] leading-6">Who may do what</h2>
      <table className="w-full table-fixed text-[12px] leading-4">
        <thead>
          <tr className="border-b border-ink text-soft">
            <td className="w-[31%]" />
            {ROLES.map(([role, words]) => (
              <th key={role} scope="col" className="py-2 text-[11px] font-semibold tracking-tight">
                {words}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {team.table.map((line) => (
            <tr key={line.right} className="border-b border-hair">
              <th scope="row" className="py-2 pe-2 text-start font-normal">
                {line.words}
              </th>
              {ROLES.map(([role]) => (
                <td key={role} className="text-center">
                  {line.roles.includes(role) ? (
                    <>
                      <Check className="mx-auto h-4 w-4 text-good" aria-hidden="true" />
                      <span className="sr-only">yes</span>
                    </>
                  ) : (
                    <>
                      <span aria-hidden="true" className="text-soft">
                        ·
                      </span>
                      <span className="sr-only">no</span>
                    </>
                  )}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

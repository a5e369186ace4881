import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { say } from '../data/toasts';
import { Button } from '../kit/Button';
import { TextField, Tick } from '../kit/Field';
import { Refused } from '../kit/Panel';
import { type Group, groupsQuery } from '../session/answering';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { addGroup, changeGroup, removeGroup, type Team } from './api';

/** Who answers for what: groups to whom launchers belong and scripts hand over. */
export function GroupsSection({ team }: { team: Team }) {
  const { member, workspace } = useDesk();
  const groups = useQuery(groupsQuery(workspace.id));
  const [open, setOpen] = useState<string>();
  const governs = mayAct(member, 'govern');
  if (!governs && !groups.data?.length) return null;
  const names = new Map(team.members.map((m) => [m.id, m.name]));
  return (
    <section className="grid grid-cols-[minmax(0,1fr)] gap-2">
      <h2 className="text-[16px] leading-6">Groups</h2>
      <ul>
        {groups.data?.map((g) => (
          <li key={g.id} className="border-t border-hair py-2">
            {open === g.id ? (
              <GroupForm team={team} group={g} onClose={() => setOpen(undefined)} />
            ) : (
              <div className="flex items-baseline gap-3">
                <b className="font-semibold">{g.name}</b>
                <span className="min-w-0 flex-1 text-soft">
                  {g.memberIds.map((id) => names.get(id) ?? 'somebody').join(', ') || 'nobody yet'}
                </span>
                {governs && (
                  <Button kind="link" aria-label={`Change the group ${g.name}`} onClick={() => setOpen(g.id)}>
                    Change
                  </Button>
                )}
              </div>
            )}
          </li>
        ))}
      </ul>
      <Refused error={groups.error} />
      {groups.data?.length === 0 && open !== '' && (
        <p className="text-soft">
          None yet. Launchers can belong to a group, and scripts hand over to one, while somebody of it is at a desk.
        </p>
      )}
      {governs &&
        (open === '' ? (
          <GroupForm team={team} onClose={() => setOpen(undefined)} />
        ) : (
          <p>
            <Button onClick={() => setOpen('')}>New group</Button>
          </p>
        ))}
    </section>
  );
}

function GroupForm({ team, group, onClose }: { team: Team; group?: Group; onClose(): void }) {
  const { workspace } = useDesk();
  const queries = useQueryClient();
  const [name, setName] = useState(group?.name ?? '');
  const [memberIds, setMemberIds] = useState<readonly string[]>(group?.memberIds ?? []);
  const done = async () => {
    await queries.invalidateQueries({ queryKey: groupsQuery(workspace.id).queryKey });
    onClose();
  };
  const save = useMutation({
    mutationFn: () => {
      const body = { name, memberIds: [...memberIds] };
      return group ? changeGroup(workspace.id, group.id, body) : addGroup(workspace.id, body);
    },
    onSuccess: done,
  });
  const remove = useMutation({
    mutationFn: () => removeGroup(workspace.id, group?.id ?? ''),
    onSuccess: async () => {
      await done();
      say(`The group ${group?.name} is no more; what was theirs is everybody’s.`);
    },
  });
  // Viewers and editors do not answer visitors, so they are in no group.
  const answering = team.members.filter((m) => m.role === 'owner' || m.role === 'publisher' || m.role === 'responder');
  return (
    <form
      aria-label={group ? `Change the group ${group.name}` : 'New group'}
      className="grid gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        save.mutate();
      }}
    >
      <TextField label="Name" placeholder="Workshops" value={name} maxLength={40} onText={setName} />
      <fieldset className="grid gap-1">
        <legend className="pb-1 font-semibold">Members</legend>
        {answering.map((m) => (
          <Tick
            key={m.id}
            checked={memberIds.includes(m.id)}
            onTick={(isIn) => setMemberIds(isIn ? [...memberIds, m.id] : memberIds.filter((id) => id !== m.id))}
          >
            {m.name}
          </Tick>
        ))}
      </fieldset>
      <p className="flex flex-wrap gap-2">
        <Button kind="primary" type="submit" disabled={save.isPending || name.trim() === ''}>
          {group ? 'Keep' : 'Make the group'}
        </Button>
        <Button onClick={onClose}>Cancel</Button>
        {group && (
          <Button kind="link" className="ms-auto !text-bad" disabled={remove.isPending} onClick={() => remove.mutate()}>
            End this group
          </Button>
        )}
      </p>
      <Refused error={save.error ?? remove.error} />
    </form>
  );
}

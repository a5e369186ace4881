import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useState } from 'react';
import { pagesQuery } from '../catalogue/api';
import { KnownPages, Patterns } from '../catalogue/Patterns';
import { UsedBy } from '../catalogue/UsedBy';
import { Button } from '../kit/Button';
import { TextField } from '../kit/Field';
import { Panel, Refused, Section } from '../kit/Panel';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { type PageGroup, removeGroup, saveGroup } from './api';

/** One page group: its patterns beside the pages they mean, and what names it. */
export function GroupPanel({
  group,
  onSaved,
  onClose,
}: {
  group: PageGroup | undefined;
  onSaved(id: string | undefined): void;
  onClose(): void;
}) {
  const { site, member } = useDesk();
  const queries = useQueryClient();
  const [name, setName] = useState(group?.name ?? '');
  const [includes, setIncludes] = useState<readonly string[]>(group?.includes ?? []);
  const [excludes, setExcludes] = useState<readonly string[]>(group?.excludes ?? []);
  const { data: match } = useQuery(pagesQuery(site.id, { includes: [...includes], excludes: [...excludes], groups: [], replaces: false }));
  const mayEdit = mayAct(member, group ? 'publish' : 'draft');
  const refresh = async (id: string | undefined) => {
    for (const key of ['run-sheet', 'pages', 'rehearsal']) void queries.invalidateQueries({ queryKey: [key] });
    await queries.invalidateQueries({ queryKey: ['page-groups'] });
    onSaved(id);
  };
  const save = useMutation({
    mutationFn: () => saveGroup(site.id, group?.id, { name, includes: [...includes], excludes: [...excludes] }),
    onSuccess: (saved) => refresh(saved.id),
  });
  const remove = useMutation({ mutationFn: () => removeGroup(site.id, group?.id ?? ''), onSuccess: () => refresh(undefined) });
  const isChanged =
    !group || name !== group.name || includes.join('\n') !== group.includes.join('\n') || excludes.join('\n') !== group.excludes.join('\n');
  return (
    <Panel
      label={group ? `The page group ${group.name}` : 'A new page group'}
      title={group ? group.name : 'A new page group'}
      wide
      onClose={onClose}
      foot={
        <>
          {mayEdit ? (
            <Button
              kind="primary"
              disabled={!isChanged || name.trim() === '' || includes.length === 0 || save.isPending}
              onClick={() => save.mutate()}
            >
              {group ? 'Save the change' : 'Keep the page group'}
            </Button>
          ) : (
            <span className="text-soft">Publishers and owners change page groups that are in use.</span>
          )}
          {group && (
            <Link to="/" search={{ lane: group.id }} className="text-cobalt hover:underline">
              Its lane on the run sheet
            </Link>
          )}
          {group && isChanged && group.usedBy.length > 0 && (
            <span className="text-[12px] text-warn">The change holds at once for {group.usedBy.map((u) => u.name).join(', ')}.</span>
          )}
          <Refused error={save.error ?? remove.error} />
        </>
      }
    >
      <Section>
        <TextField label="Name" value={name} maxLength={40} disabled={!mayEdit} onChange={(e) => setName(e.currentTarget.value)} />
      </Section>
      <Section>
        <fieldset disabled={!mayEdit} className="grid gap-3">
          <Patterns
            title="Its pages"
            empty="None yet. /** is every page."
            adding="Type a pattern or paste an address"
            patterns={includes}
            seen={match?.includes ?? []}
            onChange={setIncludes}
          />
          <Patterns
            title="But not"
            empty="No exception"
            adding="Add an exception"
            patterns={excludes}
            seen={match?.excludes ?? []}
            onChange={setExcludes}
          />
        </fieldset>
      </Section>
      {match && includes.length > 0 && (
        <Section quiet>
          <KnownPages match={match} />
        </Section>
      )}
      {group && (
        <Section title="Where it is used">
          <UsedBy uses={group.usedBy} />
          {mayEdit && (
            <p>
              <Button kind="danger" disabled={group.usedBy.length > 0 || remove.isPending} onClick={() => remove.mutate()}>
                Remove the page group
              </Button>
              {group.usedBy.length > 0 && <span className="ms-2 text-[12px] text-soft">Take it out there first.</span>}
            </p>
          )}
        </Section>
      )}
    </Panel>
  );
}

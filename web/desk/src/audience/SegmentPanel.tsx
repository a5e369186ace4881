import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useEffect, useState } from 'react';
import { RuleEditor } from '../brief/WhoEditor';
import type { Named, Rule } from '../brief/who';
import { addSegment } from '../catalogue/api';
import { UsedBy } from '../catalogue/UsedBy';
import { Button } from '../kit/Button';
import { TextField } from '../kit/Field';
import { Panel, Refused, Section } from '../kit/Panel';
import { useNow } from '../kit/useNow';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { castVisitor } from '../visits/api';
import { useTrial } from '../visits/useTrial';
import { changeSegment, removeSegment, type Segment, sizeQuery } from './api';
import { VisitorLine } from './VisitorLine';

/** One segment: its rule, how many recorded visitors it means, some of them, and what names it. */
export function SegmentPanel({
  segment,
  segments,
  onSaved,
  onClose,
}: {
  /** The segment; none for a new one. */
  segment: Segment | undefined;
  segments: readonly Named[];
  onSaved(id: string | undefined): void;
  onClose(): void;
}) {
  const { site, member } = useDesk();
  const queries = useQueryClient();
  const now = useNow(30_000);
  const [name, setName] = useState(segment?.name ?? '');
  const [rule, setRule] = useState<Rule>((segment?.rule as Rule | undefined) ?? { kind: 'all', rules: [] });
  const settled = useSettled(rule);
  const size = useQuery(sizeQuery(site.id, settled));
  const trial = useTrial();
  const mayEdit = mayAct(member, segment ? 'publish' : 'draft');
  const refresh = () => queries.invalidateQueries({ queryKey: ['segments'] });
  const save = useMutation({
    mutationFn: () => (segment ? changeSegment(site.id, segment.id, name, rule) : addSegment(site.id, { name, rule: rule as never })),
    onSuccess: async (saved) => {
      await refresh();
      onSaved(saved.id);
    },
  });
  const remove = useMutation({
    mutationFn: () => removeSegment(site.id, segment?.id ?? ''),
    onSuccess: async () => {
      await refresh();
      onSaved(undefined);
    },
  });
  const walk = useMutation({
    mutationFn: async () => {
      const { visitor } = await castVisitor(site.id, segment?.id ?? '', {});
      await trial.mutateAsync({ path: '/', visitor });
    },
  });
  const isChanged = !segment || name !== segment.name || JSON.stringify(rule) !== JSON.stringify(segment.rule);
  return (
    <Panel
      label={segment ? `The segment ${segment.name}` : 'A new segment'}
      title={segment ? segment.name : 'A new segment'}
      wide
      onClose={onClose}
      foot={
        <>
          {mayEdit ? (
            <Button kind="primary" disabled={!isChanged || name.trim() === '' || save.isPending} onClick={() => save.mutate()}>
              {segment ? 'Save the change' : 'Keep the segment'}
            </Button>
          ) : (
            <span className="text-soft">Publishers and owners change segments that are in use.</span>
          )}
          {segment && (
            <>
              <Button disabled={walk.isPending} onClick={() => walk.mutate()}>
                Walk as one of them
              </Button>
              <Link to="/" search={{ segment: segment.id }} className="text-cobalt hover:underline">
                On the run sheet
              </Link>
            </>
          )}
          <Refused error={save.error ?? remove.error ?? walk.error} />
        </>
      }
    >
      <Section>
        <TextField label="Name" value={name} maxLength={60} disabled={!mayEdit} onChange={(e) => setName(e.currentTarget.value)} />
      </Section>
      <Section title="Who belongs to it">
        <fieldset disabled={!mayEdit}>
          <RuleEditor rule={rule} segments={segments.filter((s) => s.id !== segment?.id)} keepable={false} onChange={setRule} />
        </fieldset>
      </Section>
      <Section title="Recorded visitors of the last 30 days" quiet>
        {size.error && <Refused error={size.error} />}
        {size.data && !size.error && (
          <>
            <p role="status" className={size.isPlaceholderData ? 'opacity-70' : ''}>
              <b className="font-display text-[21px]">{size.data.visitors.toLocaleString('en-GB')}</b> of{' '}
              {size.data.of.toLocaleString('en-GB')}
              {size.data.of > 0 && `, ${((size.data.visitors / size.data.of) * 100).toFixed(1)} %`}
            </p>
            <ul className="border-t border-hair">
              {size.data.sample.map((v) => (
                <li key={v.id} className="border-b border-hair py-1">
                  <Link to="/audience" search={{ view: 'visitors', id: v.id }} className="block hover:bg-sheet">
                    <VisitorLine visitor={v} now={now} />
                  </Link>
                </li>
              ))}
            </ul>
            {size.data.visitors > size.data.sample.length && segment && (
              <Link to="/audience" search={{ view: 'visitors', segment: segment.id }} className="text-cobalt hover:underline">
                All of them
              </Link>
            )}
          </>
        )}
        {size.isPending && <p className="text-soft">Counting</p>}
      </Section>
      {segment && (
        <Section title="Where it is used">
          <UsedBy uses={segment.usedBy} />
          {mayEdit && (
            <p>
              <Button kind="danger" disabled={segment.usedBy.length > 0 || remove.isPending} onClick={() => remove.mutate()}>
                Remove the segment
              </Button>
              {segment.usedBy.length > 0 && <span className="ms-2 text-[12px] text-soft">Take it out there first.</span>}
            </p>
          )}
        </Section>
      )}
    </Panel>
  );
}

/** The rule once nobody has touched it for a moment, so that not every key is counted. */
function useSettled<T>(value: T): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), 250);
    return () => clearTimeout(timer);
  }, [value]);
  return settled;
}

import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { say } from '../data/toasts';
import { Button } from '../kit/Button';
import { Choice } from '../kit/Field';
import { Failed, Waiting } from '../kit/Notice';
import { Refused } from '../kit/Panel';
import { useDesk } from '../session/desk';
import { type Limits, limitsQuery, setLimits } from './api';

const ROWS = [
  ['visitorsAMonth', 'visitors', 'Visitors this month'],
  ['calloutsLive', 'calloutsLive', 'Callouts live at once'],
  ['sites', 'sites', 'Sites'],
] as const;

/** How far the workspace may go, with its use beside it. */
export function LimitsSection() {
  const { workspace } = useDesk();
  const limits = useQuery(limitsQuery(workspace.id));
  if (limits.isError) return <Failed error={limits.error} again={() => void limits.refetch()} />;
  if (!limits.data) return <Waiting>Counting what is used</Waiting>;
  return <Form key={JSON.stringify(limits.data.limits)} data={limits.data} />;
}

function Form({ data }: { data: Awaited<ReturnType<typeof setLimits>> }) {
  const { workspace } = useDesk();
  const queries = useQueryClient();
  const [typed, setTyped] = useState<Limits>(data.limits);
  const save = useMutation({
    mutationFn: () => setLimits(workspace.id, typed),
    onSuccess: (view) => {
      queries.setQueryData(limitsQuery(workspace.id).queryKey, view);
      say('The limits are changed.');
    },
  });
  return (
    <section aria-label="Limits" className="grid max-w-[820px] content-start gap-3 border-b border-ink p-4">
      <h2 className="text-[17px] leading-6">Limits</h2>
      {data.warnings.map((w) => (
        <p key={w} role="status" className="font-semibold text-warn">
          {w}
        </p>
      ))}
      <form
        noValidate
        className="grid gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate();
        }}
      >
        {ROWS.map(([limit, use, words]) => (
          <label key={limit} className="grid grid-cols-[minmax(0,1fr)_90px_auto] items-center gap-3">
            <span>
              {words} <span className="block text-[12px] leading-4 text-soft">empty for no limit</span>
            </span>
            <strong className="text-end">{Number(data.use[use]).toLocaleString('en-GB')}</strong>
            <span>
              of{' '}
              <input
                type="number"
                min={1}
                className="w-28"
                aria-label={`Limit of ${words.toLowerCase()}`}
                value={typed[limit] ?? ''}
                onChange={(e) =>
                  setTyped({ ...typed, [limit]: e.currentTarget.value === '' ? null : Math.trunc(Number(e.currentTarget.value)) })
                }
              />
            </span>
          </label>
        ))}
        <Choice
          legend="When the month’s visitors are used up"
          value={typed.atVisitors}
          choices={[
            ['goOn', 'everything goes on, and the owners get a mail'],
            ['goQuiet', 'the sites go off air until the month is over, and the owners get a mail'],
          ]}
          onChoose={(atVisitors) => setTyped({ ...typed, atVisitors })}
        />
        <Refused error={save.error} />
        <p>
          <Button type="submit" disabled={save.isPending || JSON.stringify(typed) === JSON.stringify(data.limits)}>
            Keep the limits
          </Button>
        </p>
      </form>
    </section>
  );
}

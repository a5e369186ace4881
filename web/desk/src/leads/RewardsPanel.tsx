import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { rewardsQuery } from '../catalogue/api';
import { say } from '../data/toasts';
import { Button } from '../kit/Button';
import { TextField } from '../kit/Field';
import { Failed, Waiting } from '../kit/Notice';
import { Panel, Refused, Section } from '../kit/Panel';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { addCodes, addFile, removeFile, removePool } from './api';

/** What is given for a yes: pools of codes, and files. */
export function RewardsPanel({ onClose }: { onClose(): void }) {
  const { site, member } = useDesk();
  const queries = useQueryClient();
  const rewards = useQuery(rewardsQuery(site.id));
  const [name, setName] = useState('');
  const [codes, setCodes] = useState('');
  const again = () => void queries.invalidateQueries({ queryKey: ['rewards'] });
  const add = useMutation({
    mutationFn: () => addCodes(site.id, name, codes),
    onSuccess: (done) => {
      say(`${done.added.toLocaleString('en-GB')} codes added${done.known > 0 ? `, ${done.known} known already` : ''}.`);
      setCodes('');
      again();
    },
  });
  const upload = useMutation({ mutationFn: (file: File) => addFile(site.id, file), onSuccess: again });
  const remove = useMutation({ mutationFn: (run: () => Promise<unknown>) => run(), onSuccess: again });
  const mayEdit = mayAct(member, 'publish');
  return (
    <Panel label="Rewards" title="Rewards" onClose={onClose}>
      {rewards.isError ? (
        <Failed error={rewards.error} again={() => void rewards.refetch()} />
      ) : !rewards.data ? (
        <Waiting>Fetching the rewards</Waiting>
      ) : (
        <>
          <Section title="Pools of codes">
            {rewards.data.pools.length === 0 && <p className="text-soft">No pool yet. Each code of a pool is given once.</p>}
            <ul>
              {rewards.data.pools.map((pool) => (
                <li key={pool.id} className="flex items-center gap-3 border-t border-hair py-1.5">
                  <span className="min-w-0 flex-1">
                    <span className="block truncate font-semibold">{pool.name}</span>
                    <span className={`text-[12px] ${pool.left * 10 <= pool.left + pool.given ? 'font-semibold text-bad' : 'text-soft'}`}>
                      {pool.left.toLocaleString('en-GB')} left, {pool.given.toLocaleString('en-GB')} given
                    </span>
                  </span>
                  {mayEdit && (
                    <Button kind="link" disabled={remove.isPending} onClick={() => remove.mutate(() => removePool(site.id, pool.id))}>
                      Remove
                    </Button>
                  )}
                </li>
              ))}
            </ul>
            {mayEdit && (
              <form
                className="grid gap-2"
                onSubmit={(e) => {
                  e.preventDefault();
                  add.mutate();
                }}
              >
                <TextField
                  label="Pool"
                  hint="A new name makes a pool; a known one gets the codes besides."
                  value={name}
                  maxLength={80}
                  onChange={(e) => setName(e.currentTarget.value)}
                />
                <label className="grid gap-1">
                  <span className="font-semibold">Codes</span>
                  <textarea
                    rows={4}
                    className="w-full font-mono"
                    placeholder={'BOWL-7K2M\nBOWL-9QXT'}
                    value={codes}
                    onChange={(e) => setCodes(e.currentTarget.value)}
                  />
                  <span className="text-[12px] leading-4 text-soft">One on each line, or a CSV with codes in its first column.</span>
                </label>
                <input
                  type="file"
                  accept=".csv,.txt,text/csv,text/plain"
                  aria-label="A CSV of codes"
                  onChange={(e) => void e.currentTarget.files?.[0]?.text().then(setCodes)}
                />
                <span>
                  <Button type="submit" disabled={!name.trim() || !codes.trim() || add.isPending}>
                    Add codes
                  </Button>
                </span>
                <Refused error={add.error ?? remove.error} />
              </form>
            )}
          </Section>
          <Section title="Files">
            {rewards.data.files.length === 0 && <p className="text-soft">No file yet. A link to it is good for 24 hours.</p>}
            <ul>
              {rewards.data.files.map((file) => (
                <li key={file.id} className="flex items-center gap-3 border-t border-hair py-1.5">
                  <span className="min-w-0 flex-1 truncate">
                    {file.name} <span className="text-soft">{Math.max(1, Math.round(file.bytes / 1024)).toLocaleString('en-GB')} KB</span>
                  </span>
                  {mayEdit && (
                    <Button kind="link" disabled={remove.isPending} onClick={() => remove.mutate(() => removeFile(site.id, file.id))}>
                      Remove
                    </Button>
                  )}
                </li>
              ))}
            </ul>
            {mayEdit && (
              <label className="grid gap-1">
                <span className="font-semibold">Add a file</span>
                <input
                  type="file"
                  disabled={upload.isPending}
                  onChange={(e) => {
                    const file = e.currentTarget.files?.[0];
                    if (file) upload.mutate(file);
                    e.currentTarget.value = '';
                  }}
                />
                <span className="text-[12px] leading-4 text-soft">20 MB at most.</span>
              </label>
            )}
            <Refused error={upload.error} />
          </Section>
        </>
      )}
    </Panel>
  );
}

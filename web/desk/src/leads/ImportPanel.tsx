import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { say } from '../data/toasts';
import { Button } from '../kit/Button';
import { Panel, Refused, Section } from '../kit/Panel';
import { plural } from '../kit/plural';
import { useDesk } from '../session/desk';
import { type ImportedLeads, importLeads } from './api';

const MEANINGS: Record<string, string> = {
  email: 'the e-mail address',
  phone: 'the phone number',
  first_name: 'the first name',
  surname: 'the surname',
  language: 'the language',
  tags: 'tags',
  promise: 'what they agreed to',
  agreed_at: 'when they agreed',
  answer: 'an answer of its own',
};

/** People out of a file: looked at first, then taken in whole. */
export function ImportPanel({ onClose }: { onClose(): void }) {
  const { site } = useDesk();
  const queries = useQueryClient();
  const [file, setFile] = useState<File>();
  const look = useMutation({ mutationFn: (chosen: File) => importLeads(site.id, chosen, true) });
  const take = useMutation({
    mutationFn: (chosen: File) => importLeads(site.id, chosen, false),
    onSuccess: (done) => {
      say(`${plural(done.new, 'new person', 'new people')} taken in, ${done.known} known before.`);
      void queries.invalidateQueries({ queryKey: ['leads'] });
      onClose();
    },
  });
  const data = look.data;
  const count = data ? data.new + data.known : 0;
  return (
    <Panel label="Import leads" title="Import leads" onClose={onClose}>
      <Section>
        <p>
          A CSV with a heading line, one person a line, known by <code className="font-mono text-[12.5px]">email</code> or{' '}
          <code className="font-mono text-[12.5px]">phone</code>. With <code className="font-mono text-[12.5px]">promise</code> and{' '}
          <code className="font-mono text-[12.5px]">agreed_at</code>, what they agreed to word for word and when, they may be written to;
          all others wait, and are written to by nobody.
        </p>
        <label className="grid gap-1">
          <span className="font-semibold">File</span>
          <input
            type="file"
            accept=".csv,text/csv"
            onChange={(e) => {
              const chosen = e.currentTarget.files?.[0];
              setFile(chosen);
              if (chosen) look.mutate(chosen);
            }}
          />
        </label>
        <Refused error={look.error ?? take.error} />
        <p role="status" className="text-soft">
          {look.isPending ? 'Reading the file' : ''}
        </p>
      </Section>
      {data && file && (
        <>
          <Section title="What would come of it">
            <Found found={data} />
            <p>
              <Button kind="primary" disabled={take.isPending || count === 0} onClick={() => take.mutate(file)}>
                Take in {plural(count, 'person', 'people')}
              </Button>
            </p>
          </Section>
          <Section title="Its columns">
            <dl className="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-x-3">
              {Object.entries(data.columns).map(([heading, meaning]) => (
                <div key={heading} className="contents">
                  <dt className="truncate border-t border-hair py-1 font-mono text-[12.5px]">{heading}</dt>
                  <dd className="border-t border-hair py-1 text-soft">{MEANINGS[meaning] ?? meaning}</dd>
                </div>
              ))}
            </dl>
          </Section>
          {data.refused > 0 && (
            <Section title={`${plural(data.refused, 'line')} that ${data.refused === 1 ? 'is' : 'are'} nobody`}>
              <ul>
                {data.faults.map((f) => (
                  <li key={f.line} className="border-t border-hair py-1">
                    <span className="text-soft">line {f.line}</span> {f.why}
                  </li>
                ))}
              </ul>
            </Section>
          )}
        </>
      )}
    </Panel>
  );
}

function Found({ found }: { found: ImportedLeads }) {
  const rows: [number, string][] = [
    [found.new, 'new'],
    [found.known, 'known before: what is missing is filled in, nothing overwritten'],
    [found.agreed, 'of both agreed to something, and may be written to'],
    [found.leftAlone, 'who took it back before, left alone'],
  ];
  return (
    <ul>
      {rows
        .filter(([count]) => count > 0)
        .map(([count, words]) => (
          <li key={words} className="flex gap-3 border-t border-hair py-1">
            <b className="w-12 flex-none text-end font-semibold">{count.toLocaleString('en-GB')}</b>
            <span>{words}</span>
          </li>
        ))}
    </ul>
  );
}

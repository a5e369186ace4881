import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { sourcesQuery } from '../catalogue/api';
import { Button } from '../kit/Button';
import { NumberField, SelectField } from '../kit/Field';
import { Panel, Refused, Section } from '../kit/Panel';
import { plural } from '../kit/plural';
import { clock, day } from '../kit/time';
import { useDesk } from '../session/desk';
import {
  beginImport,
  cancelImport,
  type EventMap,
  type Import,
  importsQuery,
  type Preview,
  previewImport,
  type Upload,
  uploadFile,
} from './api';
import { MapEditor, PreviewEvents } from './sources/MapEditor';

const STATES = { running: 'reading', done: 'done', cancelled: 'stopped', failed: 'broken off' } as const;

/** A file read into the ledger: brought, its columns confirmed, tried dry, taken in, reported on. All on one sheet. */
export function ImportPanel({ source: given, onClose }: { source: string | undefined; onClose(): void }) {
  const { site } = useDesk();
  const queries = useQueryClient();
  const { data: sources } = useQuery(sourcesQuery(site.id));
  const takers = sources?.filter((s) => s.kind === 'fileImport' || s.kind === 'signedWebhook' || s.kind === 'siteForm') ?? [];
  const [sourceId, setSourceId] = useState(given);
  const source = takers.find((s) => s.id === sourceId) ?? takers.find((s) => s.kind === 'fileImport') ?? takers[0];
  const [share, setShare] = useState<number>();
  const [upload, setUpload] = useState<Upload>();
  const [map, setMap] = useState<EventMap>();
  const [preview, setPreview] = useState<Preview>();
  const [newest, setNewest] = useState<number>();
  const bring = useMutation({
    mutationFn: (file: File) => uploadFile(site.id, file, setShare),
    onSuccess: (brought) => {
      setUpload(brought);
      setMap(undefined);
      setPreview(undefined);
    },
    onSettled: () => setShare(undefined),
  });
  const look = useMutation({
    mutationFn: (asked: { upload: string; map?: EventMap | undefined }) =>
      previewImport(site.id, asked.upload, { eventKind: source?.eventKind ?? 'purchase', ...(asked.map ? { map: asked.map } : {}) }),
    onSuccess: (seen) => {
      setPreview(seen);
      setMap((before) => before ?? seen.map);
    },
  });
  const { mutate } = look;
  const kind = source?.eventKind;
  useEffect(() => {
    if (upload && kind) mutate({ upload: upload.id, map });
  }, [upload, map, kind, mutate]);
  const begin = useMutation({
    mutationFn: (dryRun: boolean) =>
      beginImport(site.id, { upload: upload?.id ?? '', source: source?.id ?? '', map: map as EventMap, dryRun, newest: newest ?? null }),
    onSuccess: (_, dryRun) => {
      void queries.invalidateQueries({ queryKey: ['imports'] });
      if (dryRun) return;
      setUpload(undefined);
      setPreview(undefined);
      setMap(undefined);
    },
  });
  return (
    <Panel label="Import a file" title="Import a file" wide onClose={onClose}>
      <Section>
        {takers.length === 0 ? (
          <p>Add a source for it first: its events need to belong somewhere.</p>
        ) : (
          <SelectField
            label="Its events belong to"
            value={source?.id ?? ''}
            choices={takers.map((s) => [s.id, s.name] as const)}
            onChoose={(id) => {
              setSourceId(id);
              setMap(undefined);
            }}
          />
        )}
        <label className="grid gap-1 font-semibold">
          CSV with a heading line, or NDJSON
          <input
            type="file"
            accept=".csv,.tsv,.txt,.ndjson,.jsonl,.json,text/csv,application/x-ndjson"
            className="font-normal"
            disabled={!source || bring.isPending}
            onChange={(e) => {
              const file = e.currentTarget.files?.[0];
              if (file) bring.mutate(file);
            }}
          />
        </label>
        {share !== undefined && (
          <p role="status" className="flex items-center gap-2">
            Uploading <progress value={share} max={1} aria-label="Upload" /> {Math.round(share * 100)} %
          </p>
        )}
        <Refused error={bring.error} />
      </Section>
      {upload && preview && map && source && (
        <>
          <Section title={`What stands in ${upload.fileName}`}>
            <p className="text-soft">
              Read as {upload.encoding}
              {map.dates && `, dates ${map.dates === 'dayFirst' ? 'day first' : 'month first'}`}.
            </p>
            <MapEditor map={map} preview={preview} onMap={setMap} />
            <Refused error={look.error} />
          </Section>
          <Section title="What would come of its first rows">
            <PreviewEvents preview={preview} />
          </Section>
          <Section>
            <fieldset className="grid gap-1">
              <legend className="mb-1 font-semibold">How much of it</legend>
              <label className="flex min-h-7 items-center gap-2">
                <input type="radio" name="newest" checked={newest === undefined} onChange={() => setNewest(undefined)} /> all rows
              </label>
              <div className="flex min-h-7 items-center gap-2">
                <input
                  type="radio"
                  name="newest"
                  aria-label="Only the newest"
                  checked={newest !== undefined}
                  onChange={() => setNewest(100)}
                />
                <NumberField label="only the newest" min={1} value={newest ?? 100} onValue={setNewest} />
              </div>
            </fieldset>
            <p className="flex flex-wrap gap-2">
              <Button onClick={() => begin.mutate(true)} disabled={begin.isPending || !!preview.mapFault}>
                Test import
              </Button>
              <Button kind="primary" onClick={() => begin.mutate(false)} disabled={begin.isPending || !!preview.mapFault}>
                Import
              </Button>
            </p>
            <p className="text-[12px] leading-4 text-soft">
              What is in the ledger already is not added again, however often a file is imported.
            </p>
            <Refused error={begin.error} />
          </Section>
        </>
      )}
      <Imports />
    </Panel>
  );
}

function Imports() {
  const { site } = useDesk();
  const queries = useQueryClient();
  const imports = useQuery(importsQuery(site.id));
  const cancel = useMutation({
    mutationFn: (id: string) => cancelImport(site.id, id),
    onSettled: () => void queries.invalidateQueries({ queryKey: ['imports'] }),
  });
  if (!imports.data?.length) return null;
  return (
    <Section title="Imports" quiet>
      <ul>
        {imports.data.map((i) => (
          <li key={i.id} className="grid gap-1 border-t border-hair py-2">
            <span className="flex justify-between gap-2">
              <b className="overflow-hidden text-ellipsis whitespace-nowrap">{i.fileName}</b>
              <span className={i.state === 'failed' ? 'text-bad' : ''} role={i.state === 'running' ? 'status' : undefined}>
                {i.isDryRun && 'tried dry, '}
                {STATES[i.state]}
              </span>
            </span>
            <span className="text-[12px] leading-4">{said(i)}</span>
            {i.because && <span className="text-[12px] leading-4 text-bad">{i.because}</span>}
            <span className="flex items-center gap-3 text-[12px] leading-4 text-soft">
              {i.startedBy}, {day(i.startedAt)}, {clock(i.startedAt)}
              {i.rejected > 0 && (
                <a className="text-cobalt underline" href={`/api/sites/${site.id}/imports/${i.id}/rejects.csv`} download>
                  Rejected rows
                </a>
              )}
              {i.state === 'running' && (
                <Button kind="link" onClick={() => cancel.mutate(i.id)}>
                  Stop
                </Button>
              )}
            </span>
          </li>
        ))}
      </ul>
    </Section>
  );
}

const count = (n: number) => n.toLocaleString('en-GB');

function said(i: Import): string {
  const parts = [
    `${plural(i.read, 'row')} read`,
    `${count(i.added)} ${i.isDryRun ? 'would be new' : 'new'}`,
    i.repeated > 0 && `${count(i.repeated)} known`,
    i.held > 0 && `${count(i.held)} held for review`,
    i.leftOut > 0 && `${count(i.leftOut)} left out by condition`,
    i.rejected > 0 && `${count(i.rejected)} rejected`,
  ];
  return parts.filter(Boolean).join(', ');
}

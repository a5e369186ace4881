import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import type { Schema } from '../../data/api';
import { Button } from '../../kit/Button';
import { NumberField, SelectField, TextField } from '../../kit/Field';
import { Refused } from '../../kit/Panel';
import { useDesk } from '../../session/desk';
import { type EventMap, type Preview, previewList } from '../api';
import type { EventKind, SourceKind } from '../words';
import { MapEditor, PreviewEvents } from './MapEditor';

export type Poll = Schema<'Polling'>;

const EVERY = [
  ['15', 'every 15 minutes'],
  ['60', 'every hour'],
  ['240', 'every 4 hours'],
  ['1440', 'once a day'],
] as const;

const FORMATS = [
  ['json', 'JSON'],
  ['ndjson', 'NDJSON, one object a line'],
  ['csv', 'CSV with a heading line'],
  ['jsonLd', 'a page with schema.org reviews (JSON-LD)'],
] as const;

/** What a new source of this sort begins with. */
export const startPoll = (kind: SourceKind): Poll => ({
  address: '',
  format: kind === 'feed' ? 'feed' : 'json',
  listPointer: '',
  everyMinutes: kind === 'profileTotals' ? 240 : 60,
  most: kind === 'feed' ? 5 : 100,
  of: kind === 'profileTotals' ? 'followers' : '',
});

/** From where, how often, and what stands where in the answer. */
export function PollEditor({
  kind,
  sourceKind,
  poll,
  map,
  onPoll,
  onMap,
}: {
  kind: EventKind;
  sourceKind: SourceKind;
  poll: Poll;
  map: EventMap | undefined;
  onPoll(poll: Poll): void;
  onMap(map: EventMap): void;
}) {
  const { site } = useDesk();
  const [preview, setPreview] = useState<Preview>();
  /** Where was looked last: what stands elsewhere is guessed anew. */
  const [seenAt, setSeenAt] = useState<string>();
  const place = JSON.stringify([poll.address, poll.format, poll.listPointer]);
  const look = useMutation({
    mutationFn: (asked: EventMap | undefined) => previewList(site.id, { eventKind: kind, poll, ...(asked ? { map: asked } : {}) }),
    onSuccess: (seen, asked) => {
      setPreview(seen);
      setSeenAt(place);
      if (!asked && seen.fault === null) onMap(seen.map);
    },
  });
  const saysItself = poll.format === 'feed' || poll.format === 'jsonLd';
  return (
    <div className="grid gap-3">
      <TextField
        label={sourceKind === 'feed' ? 'Address of the feed' : 'Address'}
        type="url"
        value={poll.address}
        placeholder="https://"
        onText={(address) => onPoll({ ...poll, address })}
      />
      {sourceKind !== 'feed' && (
        <SelectField
          label="It answers with"
          value={poll.format === 'ndJson' ? 'ndjson' : (poll.format as string)}
          choices={(sourceKind === 'profileTotals' ? FORMATS.slice(0, 1) : FORMATS) as unknown as readonly (readonly [string, string])[]}
          onChoose={(f) => onPoll({ ...poll, format: (f === 'ndjson' ? 'ndJson' : f) as Poll['format'] })}
        />
      )}
      {poll.format === 'json' && sourceKind === 'reviewList' && (
        <TextField
          label="The list stands at"
          hint="A JSON Pointer such as /data/reviews; empty when the answer is the list itself."
          value={poll.listPointer}
          onText={(listPointer) => onPoll({ ...poll, listPointer })}
        />
      )}
      {sourceKind === 'profileTotals' && (
        <TextField
          label="It counts"
          hint="Said after the number: followers, ratings."
          value={poll.of}
          onText={(of) => onPoll({ ...poll, of })}
        />
      )}
      <div className="grid grid-cols-2 gap-3">
        <SelectField
          label="Fetched"
          value={String(poll.everyMinutes)}
          choices={
            EVERY.some(([v]) => v === String(poll.everyMinutes))
              ? EVERY
              : [[String(poll.everyMinutes), `every ${poll.everyMinutes} minutes`] as const, ...EVERY]
          }
          onChoose={(v) => onPoll({ ...poll, everyMinutes: Number(v) })}
        />
        {sourceKind !== 'profileTotals' && (
          <div className="self-end">
            <NumberField label="Newest" min={1} max={500} value={poll.most} onValue={(most) => onPoll({ ...poll, most })} after="at most" />
          </div>
        )}
      </div>
      <p>
        <Button
          onClick={() => look.mutate(seenAt === place && map && Object.keys(map.places).length > 0 ? map : undefined)}
          disabled={!poll.address || look.isPending}
        >
          {look.isPending ? 'Fetching' : 'Look at it'}
        </Button>
      </p>
      <Refused error={look.error} />
      {preview?.fault && (
        <p role="alert" className="text-bad">
          {preview.fault}
        </p>
      )}
      {preview && preview.fault === null && (
        <>
          {!saysItself && (
            <MapEditor
              map={map ?? preview.map}
              preview={preview}
              onMap={(next) => {
                onMap(next);
                look.mutate(next);
              }}
            />
          )}
          <PreviewEvents preview={preview}>
            <p className="font-semibold">
              {preview.items} {preview.items === 1 ? 'item' : 'items'} there; the first read
            </p>
          </PreviewEvents>
        </>
      )}
    </div>
  );
}

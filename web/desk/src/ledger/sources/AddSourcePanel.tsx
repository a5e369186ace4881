import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from '../../kit/Button';
import { SelectField, TextField } from '../../kit/Field';
import { Panel, Refused, Section } from '../../kit/Panel';
import { useDesk } from '../../session/desk';
import { addSource, type EventMap } from '../api';
import { type EventKind, KINDS, SOURCES, type SourceKind } from '../words';
import { FormEditor, type Mapping } from './FormEditor';
import { JsonEditor } from './JsonEditor';
import { type Poll, PollEditor, startPoll } from './PollEditor';
import { type Script, ScriptEditor, startScript } from './ScriptEditor';
import { ShopConnect } from './ShopConnect';

// What makes itself is not added by hand.
const SORTS = (Object.entries(SOURCES) as [SourceKind, (typeof SOURCES)[SourceKind]][]).filter(([, { kinds }]) => kinds.length > 0);

/** Begins to listen to something: what it is, what its events are, and the one thing that sort needs. */
export function AddSourcePanel({ onClose, onAdded }: { onClose(): void; onAdded(id: string, next: 'import' | 'source'): void }) {
  const { site } = useDesk();
  const queries = useQueryClient();
  const [kind, setKind] = useState<SourceKind>();
  const [eventKind, setEventKind] = useState<EventKind>('purchase');
  const [name, setName] = useState('');
  const [form, setForm] = useState<Mapping>();
  const [map, setMap] = useState<EventMap>();
  const [poll, setPoll] = useState<Poll>(startPoll('reviewList'));
  const [script, setScript] = useState<Script>(startScript);
  const add = useMutation({
    mutationFn: (sort: SourceKind) =>
      addSource(site.id, {
        name: name || suggest(sort, eventKind, form),
        kind: sort,
        eventKind,
        settings: {
          form: sort === 'siteForm' ? (form ?? null) : null,
          map: sort === 'signedWebhook' || sort === 'reviewList' || sort === 'profileTotals' ? (map ?? null) : null,
          poll: isFetched(sort) ? poll : null,
          script: sort === 'pageScript' ? script : null,
          rules: null,
          display: null,
        },
      }),
    onSuccess: (made) => {
      void queries.invalidateQueries({ queryKey: ['sources'] });
      onAdded(made.id, made.kind === 'fileImport' ? 'import' : 'source');
    },
  });
  function choose(sort: SourceKind) {
    setKind(sort);
    setEventKind(SOURCES[sort].kinds[0] ?? 'purchase');
    setPoll(startPoll(sort));
    setMap(undefined);
    add.reset();
  }
  return (
    <Panel
      label="Add a source"
      title="Add a source"
      wide
      onClose={onClose}
      foot={
        kind &&
        kind !== 'shop' && (
          <>
            <Button kind="primary" disabled={add.isPending} onClick={() => add.mutate(kind)}>
              Add source
            </Button>
            <Refused error={add.error} />
          </>
        )
      }
    >
      <Section>
        <fieldset className="grid">
          <legend className="mb-1 font-semibold">What do you have?</legend>
          {SORTS.filter(([sort]) => !kind || sort === kind).map(([sort, { name: words, what }]) => (
            <label key={sort} className="flex cursor-pointer gap-2 border-b border-hair py-2">
              <input type="radio" name="sort" className="mt-0.5" checked={kind === sort} onChange={() => choose(sort)} />
              <span>
                <b className="inline-block first-letter:uppercase">{words}</b>
                <span className="block text-[12px] leading-4 text-soft">{what}</span>
              </span>
            </label>
          ))}
        </fieldset>
        {kind && (
          <p>
            <Button kind="link" onClick={() => setKind(undefined)}>
              Something else
            </Button>
          </p>
        )}
      </Section>
      {kind === 'shop' && (
        <Section>
          <ShopConnect />
        </Section>
      )}
      {kind && kind !== 'shop' && (
        <Section>
          <SelectField
            label="Its events are"
            value={eventKind}
            choices={SOURCES[kind].kinds.map((k) => [k, KINDS[k][1]] as const)}
            onChoose={(of) => setEventKind(of)}
          />
          {kind === 'siteForm' && <FormEditor form={form} onForm={setForm} />}
          {kind === 'signedWebhook' && <JsonEditor key={eventKind} kind={eventKind} map={map} sample={undefined} onMap={setMap} />}
          {isFetched(kind) && <PollEditor kind={eventKind} sourceKind={kind} poll={poll} map={map} onPoll={setPoll} onMap={setMap} />}
          {kind === 'pageScript' && <ScriptEditor kind={eventKind} script={script} onScript={setScript} />}
          {kind === 'fileImport' && (
            <p className="text-soft">Next you bring the file, and see what would come of it before anything is taken in.</p>
          )}
          <TextField
            label="Name"
            placeholder={suggest(kind, eventKind, form)}
            hint="How your team calls it. A suggestion stands there already."
            value={name}
            maxLength={80}
            onChange={(e) => setName(e.currentTarget.value)}
          />
        </Section>
      )}
    </Panel>
  );
}

export const isFetched = (kind: SourceKind) => kind === 'reviewList' || kind === 'profileTotals' || kind === 'feed';

function suggest(kind: SourceKind, eventKind: EventKind, form: Mapping | undefined): string {
  const first = (words: string) => words.charAt(0).toUpperCase() + words.slice(1);
  if (kind === 'siteForm' && form && !form.form.startsWith('fields:')) return first(`${form.form.replace(/[-_]+/g, ' ')} form`);
  return kind === 'feed' || kind === 'profileTotals' ? first(SOURCES[kind].name) : first(`${KINDS[eventKind][1]}, ${SOURCES[kind].name}`);
}

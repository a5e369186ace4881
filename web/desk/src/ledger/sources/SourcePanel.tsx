import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link, useNavigate } from '@tanstack/react-router';
import { useState } from 'react';
import type { Source } from '../../brief/types';
import { startCallout } from '../../callouts/api';
import { sourcesQuery } from '../../catalogue/api';
import { Button } from '../../kit/Button';
import { Code } from '../../kit/Copy';
import { SelectField, TextField } from '../../kit/Field';
import { Fetched } from '../../kit/Notice';
import { Panel, Refused, Section } from '../../kit/Panel';
import { StateSign } from '../../kit/StateSign';
import { ago, clock, day } from '../../kit/time';
import { useNow } from '../../kit/useNow';
import { useDesk } from '../../session/desk';
import { mayAct } from '../../session/model';
import { changeSource, deleteSource, fetchNow, pauseSource, rotateSecret, type SourceSettings, sendTest } from '../api';
import { KINDS, SOURCES } from '../words';
import { isFetched } from './AddSourcePanel';
import { DeliveriesList, useLastBody } from './DeliveriesList';
import { FormEditor } from './FormEditor';
import { HandEntry } from './HandEntry';
import { JsonEditor } from './JsonEditor';
import { PollEditor } from './PollEditor';
import { DisplayEditor, RulesEditor } from './RulesEditor';
import { ScriptEditor } from './ScriptEditor';
import { ShopConnect } from './ShopConnect';

/** One source opened: its health, a test, what is set of it, and what depends on it. */
export function SourcePanel(props: { sourceId: string; onClose(): void; onFilter(source: string): void; onImport(): void }) {
  const { site } = useDesk();
  const sources = useQuery(sourcesQuery(site.id));
  const source = sources.data?.find((s) => s.id === props.sourceId);
  if (!source)
    return (
      <Panel label="The chosen source" title="A source" wide onClose={props.onClose}>
        <Fetched query={sources} waiting="Fetching the source">
          {() => <p className="p-4">This source is gone.</p>}
        </Fetched>
      </Panel>
    );
  return <Opened key={source.id} source={source} {...props} />;
}

function Opened({
  source,
  onClose,
  onFilter,
  onImport,
}: {
  source: Source;
  onClose(): void;
  onFilter(source: string): void;
  onImport(): void;
}) {
  const { site, member } = useDesk();
  const queries = useQueryClient();
  const now = useNow(5000);
  const [draft, setDraft] = useState<{ name: string; settings: SourceSettings }>();
  const [sure, setSure] = useState(false);
  const refresh = () => {
    for (const key of ['sources', 'events', 'strip']) void queries.invalidateQueries({ queryKey: [key] });
  };
  const shown = draft ?? { name: source.name, settings: settingsOf(source) };
  // On top of what is there when it is taken: of two quick changes neither may be lost.
  const set = (change: Partial<SourceSettings>) =>
    setDraft((before) => {
      const is = before ?? { name: source.name, settings: settingsOf(source) };
      return { ...is, settings: { ...is.settings, ...change } };
    });
  const save = useMutation({
    mutationFn: () => changeSource(site.id, source.id, shown),
    onSuccess: () => {
      setDraft(undefined);
      refresh();
    },
  });
  const pause = useMutation({ mutationFn: () => pauseSource(site.id, source.id, !source.pausedAt), onSuccess: refresh });
  const remove = useMutation({
    mutationFn: () => deleteSource(site.id, source.id),
    onSuccess: () => {
      refresh();
      onClose();
    },
  });
  const test = useMutation({ mutationFn: () => sendTest(site.id, source.id), onSuccess: refresh });
  const navigate = useNavigate();
  const make = useMutation({
    mutationFn: () => startCallout(site.id, { source: source.id }),
    onSuccess: (made) => void navigate({ to: '/callouts/$calloutId', params: { calloutId: made.id } }),
  });
  const fetching = useMutation({ mutationFn: () => fetchNow(site.id, source.id), onSuccess: refresh });
  const mayEdit = mayAct(member, 'connect');
  const trouble = source.condition === 'refusing' ? source.refusedBecause : null;
  const lastBody = useLastBody(source);
  return (
    <Panel
      label="The chosen source"
      title={source.name}
      wide
      onClose={onClose}
      foot={
        mayEdit &&
        (draft ? (
          <>
            <Button kind="primary" onClick={() => save.mutate()} disabled={save.isPending}>
              Save changes
            </Button>
            <Button onClick={() => setDraft(undefined)}>Cancel</Button>
            <Refused error={save.error} />
          </>
        ) : (
          <>
            <Button onClick={() => pause.mutate()} disabled={pause.isPending}>
              {source.pausedAt ? 'Resume' : 'Pause'}
            </Button>
            {sure ? (
              <>
                <span>Its events stay. Delete?</span>
                <Button kind="danger" onClick={() => remove.mutate()} disabled={remove.isPending}>
                  Yes, delete
                </Button>
                <Button onClick={() => setSure(false)}>No</Button>
              </>
            ) : (
              <Button kind="danger" onClick={() => setSure(true)}>
                Delete
              </Button>
            )}
            <Refused error={pause.error ?? remove.error} />
          </>
        ))
      }
    >
      <Section>
        <p>
          {SOURCES[source.kind].name.charAt(0).toUpperCase() + SOURCES[source.kind].name.slice(1)}, bringing {KINDS[source.eventKind][1]}.{' '}
          {source.lastEventAt ? `Last ${ago(source.lastEventAt, now)}, ${source.eventsLastDay} in 24 hours` : 'Nothing came yet'}
          {source.usualDay !== null && `, ${Math.round(source.usualDay)} on a usual day`}.
        </p>
        {source.pausedAt && (
          <p className="text-warn">
            Paused since {day(source.pausedAt)}, {clock(source.pausedAt)}: nothing comes in.
          </p>
        )}
        {trouble && (
          <p className="border-s-4 border-bad ps-2">
            Refused {ago(source.refusedAt ?? '', now)}: {trouble}
          </p>
        )}
        <p className="flex flex-wrap gap-2">
          {mayEdit && source.eventKind !== 'post' && (
            <Button kind="primary" onClick={() => make.mutate()} disabled={make.isPending}>
              Make a callout of it
            </Button>
          )}
          {mayEdit && (
            <Button onClick={() => test.mutate()} disabled={test.isPending}>
              Send a test
            </Button>
          )}
          {mayEdit && isFetched(source.kind) && (
            <Button onClick={() => fetching.mutate()} disabled={fetching.isPending}>
              {fetching.isPending ? 'Fetching' : 'Fetch now'}
            </Button>
          )}
          {mayEdit && (source.kind === 'fileImport' || source.kind === 'signedWebhook' || source.kind === 'siteForm') && (
            <Button onClick={onImport}>Import a file</Button>
          )}
          <Button onClick={() => onFilter(source.id)}>Show its events</Button>
        </p>
        <p role="status" className="text-good empty:hidden">
          {test.data && 'The test is in the ledger, marked as your own: never shown, never counted.'}
          {fetching.data &&
            (fetching.data.fault ? (
              <span className="text-bad">{fetching.data.fault}</span>
            ) : (
              `${fetching.data.items} there: ${fetching.data.added} new, ${fetching.data.repeated} known${fetching.data.rejected ? `, ${fetching.data.rejected} not readable (${fetching.data.firstRejected})` : ''}.`
            ))}
        </p>
        <Refused error={test.error ?? fetching.error ?? make.error} />
      </Section>
      {source.kind === 'signedWebhook' && <Address source={source} onRotated={refresh} />}
      {source.kind === 'shop' && (
        <Section title="The shop's add-on">
          <ShopConnect />
        </Section>
      )}
      {source.kind === 'byHand' && mayEdit && (
        <Section title="Enter one">
          <HandEntry source={source} onEntered={refresh} />
        </Section>
      )}
      <Section title="What visitors can see">
        <fieldset disabled={!mayEdit}>
          <DisplayEditor
            display={shown.settings.display ?? source.display}
            own={ownOf(shown.settings, source)}
            hasPeople={!['stockLevel', 'total', 'post', 'endorsement'].includes(source.eventKind)}
            hasAmounts={['purchase', 'booking', 'basketAddition', 'enquiry', 'own'].includes(source.eventKind)}
            onDisplay={(display) => set({ display })}
          />
        </fieldset>
      </Section>
      <Section title="What counts">
        <fieldset disabled={!mayEdit}>
          <RulesEditor
            kind={source.eventKind}
            rules={shown.settings.rules ?? source.rules}
            fields={source.fields}
            onRules={(rules) => set({ rules })}
          />
        </fieldset>
      </Section>
      <Section title="How it is read">
        <fieldset disabled={!mayEdit} className="grid min-w-0 grid-cols-[minmax(0,1fr)] gap-3">
          <TextField label="Name" value={shown.name} maxLength={80} onChange={(e) => setDraft({ ...shown, name: e.currentTarget.value })} />
          {source.kind === 'siteForm' && shown.settings.form && <FormEditor form={shown.settings.form} onForm={(form) => set({ form })} />}
          {source.kind === 'signedWebhook' && (
            <JsonEditor
              key={lastBody ? 'with-sample' : 'without'}
              kind={source.eventKind}
              map={shown.settings.map ?? undefined}
              sample={lastBody}
              onMap={(map) => {
                if (JSON.stringify(map ?? null) !== JSON.stringify(source.map)) set({ map: map ?? null });
              }}
            />
          )}
          {isFetched(source.kind) && shown.settings.poll && (
            <PollEditor
              kind={source.eventKind}
              sourceKind={source.kind}
              poll={shown.settings.poll}
              map={shown.settings.map ?? undefined}
              onPoll={(poll) => set({ poll })}
              onMap={(map) => set({ map })}
            />
          )}
          {source.kind === 'pageScript' && shown.settings.script && (
            <ScriptEditor kind={source.eventKind} script={shown.settings.script} onScript={(script) => set({ script })} />
          )}
        </fieldset>
      </Section>
      {source.kind === 'signedWebhook' && (
        <Section title="Last deliveries">
          <DeliveriesList source={source} />
        </Section>
      )}
      <Section title="What depends on it" quiet>
        {source.dependents.length === 0 && <p className="text-soft">No callout draws on it yet.</p>}
        <ul>
          {source.dependents.map((d) => (
            <li key={d.id} className="flex items-center justify-between gap-2 border-t border-hair py-1.5">
              <Link to="/callouts/$calloutId" params={{ calloutId: d.id }} className="font-semibold hover:underline">
                {d.name}
              </Link>
              <StateSign state={d.state} />
            </li>
          ))}
        </ul>
      </Section>
    </Panel>
  );
}

const settingsOf = (source: Source): SourceSettings => ({
  form: source.form,
  map: source.map,
  poll: source.poll,
  script: source.script,
  rules: source.rules,
  display: source.display,
});

/** Fields of its own, with those that the draft has just added. */
const ownOf = (settings: SourceSettings, source: Source) => [
  ...new Set([...source.ownFields, ...(settings.form?.fields ?? []), ...Object.keys(settings.map?.fields ?? {})]),
];

/** How whoever posts shows that they may. */
type PostingWay = Source['proof'];

const PROOFS = [
  ['signature', 'a signature on each message'],
  ['bearer', 'the secret as a bearer token'],
  ['address', 'the secret in the address'],
] as const;

const PROOF_WORDS: Record<PostingWay, string> = {
  signature: 'Signed as Standard Webhooks: webhook-id, webhook-timestamp and webhook-signature (HMAC-SHA-256 with the secret).',
  bearer:
    'Send “Authorization: Bearer” and the secret. Whoever reads one message can send others: prefer signatures where the sender can sign.',
  address:
    'For connectors that can send nothing but an address. It may stand in logs on the way, and whoever has it can post: replace the secret if it was seen.',
};

const secretOf = (source: Source) =>
  source.proof === 'address' ? `${source.address}?secret=${encodeURIComponent(source.secret ?? '')}` : (source.secret ?? '');

function Address({ source, onRotated }: { source: Source; onRotated(): void }) {
  const { site, member } = useDesk();
  const [shown, setShown] = useState(false);
  const rotate = useMutation({ mutationFn: () => rotateSecret(site.id, source.id), onSuccess: onRotated });
  const prove = useMutation({
    mutationFn: (way: PostingWay) =>
      changeSource(site.id, source.id, { name: source.name, settings: { ...settingsOf(source), proof: way } }),
    onSuccess: onRotated,
  });
  return (
    <Section title="Where it is posted to">
      <Code copy={source.address ?? ''}>{source.address}</Code>
      {mayAct(member, 'connect') ? (
        <SelectField
          label="Whoever posts shows that they may by"
          value={source.proof}
          choices={PROOFS}
          onChoose={(p) => prove.mutate(p as PostingWay)}
        />
      ) : (
        <p>Whoever posts shows that they may by {PROOFS.find(([p]) => p === source.proof)?.[1]}.</p>
      )}
      <p className={`text-[12px] leading-4 ${source.proof === 'signature' ? 'text-soft' : 'text-warn'}`}>{PROOF_WORDS[source.proof]}</p>
      {mayAct(member, 'connect') &&
        (shown ? (
          <Code copy={secretOf(source)}>{secretOf(source)}</Code>
        ) : (
          <p>
            <Button kind="link" onClick={() => setShown(true)}>
              {source.proof === 'address' ? 'Show the address with its secret' : 'Show the secret'}
            </Button>
          </p>
        ))}
      {mayAct(member, 'connect') && (
        <p className="flex flex-wrap items-center gap-2">
          <Button onClick={() => rotate.mutate()} disabled={rotate.isPending}>
            Replace the secret
          </Button>
          <span className="text-[12px] leading-4 text-soft">
            {source.oldSecretUntil && Date.parse(source.oldSecretUntil) > Date.now()
              ? `The old one still holds until ${day(source.oldSecretUntil)}, ${clock(source.oldSecretUntil)}.`
              : 'Both hold for a day, so nothing is lost while the sender changes.'}
          </span>
        </p>
      )}
      <Refused error={rotate.error ?? prove.error} />
    </Section>
  );
}

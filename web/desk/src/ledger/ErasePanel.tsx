import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, useState } from 'react';
import { Button } from '../kit/Button';
import { SelectField, Tick } from '../kit/Field';
import { Panel, Refused, Section } from '../kit/Panel';
import { plural } from '../kit/plural';
import { Said } from '../kit/Said';
import { clock, day } from '../kit/time';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { erasePerson, erasuresQuery, findPerson, type Held } from './api';

const WORD = 'erase';

/** Finds everything held on one person, shows it, and erases it for good; a proof without the data stays. */
export function ErasePanel({ onClose }: { onClose(): void }) {
  const { site, member } = useDesk();
  const queries = useQueryClient();
  const [by, setBy] = useState<'email' | 'phone' | 'name'>('email');
  const find = useMutation({ mutationFn: (typed: string) => findPerson(site.id, { [by]: typed }) });
  const erasures = useQuery(erasuresQuery(site.id));
  return (
    <Panel label="Erase a person" title="Erase a person" wide onClose={onClose}>
      <Section>
        <p className="text-soft">
          Everything held by this e-mail address, phone number or name: events, visitors, deliveries. Addresses and numbers are kept as
          keyed hashes, so type them whole.
        </p>
        <form
          className="grid grid-cols-[110px_minmax(0,1fr)_auto] items-end gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            find.mutate(String(new FormData(event.currentTarget).get('person')));
          }}
        >
          <SelectField
            label="Known by"
            value={by}
            choices={[
              ['email', 'e-mail'],
              ['phone', 'phone'],
              ['name', 'name'],
            ]}
            onChoose={(known) => setBy(known)}
          />
          <label className="grid gap-1 font-semibold">
            Who
            <input name="person" required className="font-normal" autoComplete="off" />
          </label>
          <Button type="submit" disabled={find.isPending}>
            Find
          </Button>
        </form>
        <Refused error={find.error} />
      </Section>
      {find.data && (
        <Found
          key={find.submittedAt}
          held={find.data}
          mayErase={mayAct(member, 'govern')}
          onErased={() => {
            find.reset();
            for (const key of ['events', 'event', 'sources', 'strip', 'erasures']) void queries.invalidateQueries({ queryKey: [key] });
          }}
        />
      )}
      <Section title="Erased so far" quiet>
        {erasures.data?.length === 0 && <p className="text-soft">Nobody yet.</p>}
        <ul className="grid gap-2 text-[12px] leading-4">
          {erasures.data?.map((e) => (
            <li key={e.id} className="border-t border-hair pt-2">
              {day(e.at)}, {clock(e.at)}, by {e.by}, found by {e.foundBy}: {heldWords(e.events, e.visitors, e.deliveries)}
              <span className="block font-mono break-all text-soft">proof {e.digest.slice(0, 32)}</span>
            </li>
          ))}
        </ul>
      </Section>
    </Panel>
  );
}

function Found({ held, mayErase, onErased }: { held: Held; mayErase: boolean; onErased(): void }) {
  const { site } = useDesk();
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const [typed, setTyped] = useState('');
  const erase = useMutation({
    mutationFn: () =>
      erasePerson(site.id, {
        events: held.events.map((e) => e.id).filter((id) => !left.has(id)),
        visitors: held.visitors.map((v) => v.id).filter((id) => !left.has(id)),
        deliveries: held.deliveries.map((d) => d.id).filter((id) => !left.has(id)),
        foundBy: held.foundBy,
      }),
    onSuccess: onErased,
  });
  const all = held.events.length + held.visitors.length + held.deliveries.length;
  const chosen = all - left.size;
  const toggle = (id: string) => {
    const next = new Set(left);
    if (!next.delete(id)) next.add(id);
    setLeft(next);
  };
  if (all === 0)
    return (
      <Section>
        <p role="status">Nothing is held on this person here.</p>
      </Section>
    );
  function submit(event: FormEvent) {
    event.preventDefault();
    erase.mutate();
  }
  return (
    <>
      <Section title={`Found by ${held.foundBy}: ${heldWords(held.events.length, held.visitors.length, held.deliveries.length)}`}>
        {held.foundBy === 'name' && (
          <p className="text-[12px] leading-4 text-warn">
            Of a last name one letter is kept, so this may be more people than one. Untick who is not meant.
          </p>
        )}
        {held.more && (
          <p className="text-[12px] leading-4 text-warn">
            There is more than is listed here. Erase this, then find the person again for the rest.
          </p>
        )}
        <ul className="grid gap-1">
          {held.events.map((e) => (
            <li key={e.id} className="border-b border-hair">
              <Tick checked={!left.has(e.id)} onTick={() => toggle(e.id)}>
                <span className="min-w-0">
                  <Said spans={e.spans} />
                  <span className="block text-[12px] leading-4 text-soft">
                    {day(e.at)}, {e.source}, {[e.maskedName, e.maskedEmail, e.maskedPhone].filter(Boolean).join(', ')}
                  </span>
                </span>
              </Tick>
            </li>
          ))}
          {held.visitors.map((v) => (
            <li key={v.id} className="border-b border-hair">
              <Tick checked={!left.has(v.id)} onTick={() => toggle(v.id)}>
                <span>
                  A visitor, last here {day(v.lastAt)}
                  <span className="block text-[12px] leading-4 text-soft">
                    {Object.entries(v.attributes)
                      .map(([k, value]) => `${k}: ${value}`)
                      .join(', ')}
                  </span>
                </span>
              </Tick>
            </li>
          ))}
          {held.deliveries.map((d) => (
            <li key={d.id} className="border-b border-hair">
              <Tick checked={!left.has(d.id)} onTick={() => toggle(d.id)}>
                A delivery to {d.source}, {day(d.at)}, {clock(d.at)}
              </Tick>
            </li>
          ))}
        </ul>
      </Section>
      <Section>
        {mayErase ? (
          <form onSubmit={submit} className="grid gap-2">
            <label className="grid gap-1">
              This cannot be undone. Type “{WORD}” to erase {chosen} of {all}.
              <input value={typed} onChange={(e) => setTyped(e.currentTarget.value)} autoComplete="off" className="w-40" />
            </label>
            <p>
              <Button type="submit" kind="danger" disabled={typed !== WORD || chosen === 0 || erase.isPending}>
                Erase for good
              </Button>
            </p>
            <Refused error={erase.error} />
          </form>
        ) : (
          <p className="text-soft">Only owners erase. Ask one of them.</p>
        )}
      </Section>
    </>
  );
}

const heldWords = (events: number, visitors: number, deliveries: number) =>
  [plural(events, 'event'), plural(visitors, 'visitor'), plural(deliveries, 'delivery', 'deliveries')].join(', ');

import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { plural } from '../lib/plural';
import { say } from '../lib/toasts';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { Button } from '../ui/Button';
import { Choice, NumberField } from '../ui/Field';
import { Failed, Waiting } from '../ui/Notice';
import { Refused } from '../ui/Panel';
import { type BrandKit, kitQuery, setKit, takeOverKit } from './api';

/** How the site's things look to begin with; its colours as the pairs in which they are met, and what does not look so yet. */
export function BrandKitView() {
  const { site } = useDesk();
  const kit = useQuery(kitQuery(site.id));
  if (kit.isError) return <Failed error={kit.error} again={() => void kit.refetch()} />;
  if (!kit.data) return <Waiting>Fetching the brand kit</Waiting>;
  return <Kit key={JSON.stringify(kit.data.kit)} data={kit.data} />;
}

function Kit({ data }: { data: Awaited<ReturnType<typeof setKit>> }) {
  const { site, member } = useDesk();
  const queries = useQueryClient();
  const [kit, setTyped] = useState<BrandKit>(data.kit);
  const took = (view: typeof data) => queries.setQueryData(kitQuery(site.id).queryKey, view);
  const save = useMutation({
    mutationFn: () => setKit(site.id, kit),
    onSuccess: (view) => {
      took(view);
      say('New callouts and launchers begin in it.');
    },
  });
  const over = useMutation({
    mutationFn: (ids: string[]) => takeOverKit(site.id, ids),
    onSuccess: (view) => {
      took(view);
      for (const key of ['callouts', 'callout', 'launchers', 'launcher']) void queries.invalidateQueries({ queryKey: [key] });
    },
  });
  const mayEdit = mayAct(member, 'publish');
  const differs = JSON.stringify(kit) !== JSON.stringify(data.kit) || !data.isSet;
  return (
    <section aria-label="Brand kit" className="grid content-start gap-6 p-4 lg:grid-cols-[minmax(0,340px)_minmax(0,1fr)]">
      <form
        className="grid content-start gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate();
        }}
      >
        <p className="font-display text-[16px] leading-[26px]">
          {data.isSet
            ? 'New callouts and launchers of this site begin so.'
            : 'This site has no kit yet: new things take the colours of what went live last.'}
        </p>
        <fieldset disabled={!mayEdit} className="grid gap-4">
          <legend className="sr-only">The kit</legend>
          <Colour label="Band and button" value={kit.band} onPick={(band) => setTyped({ ...kit, band })} />
          <Colour label="Ground" value={kit.ground} onPick={(ground) => setTyped({ ...kit, ground })} />
          <Choice
            legend="Side of the screen"
            value={kit.onRight ? 'right' : 'left'}
            choices={[
              ['left', 'left'],
              ['right', 'right'],
            ]}
            onChoose={(side) => setTyped({ ...kit, onRight: side === 'right' })}
          />
          <NumberField
            label="A callout stays"
            after="seconds"
            min={2}
            max={120}
            value={kit.staySeconds}
            onValue={(staySeconds) => setTyped({ ...kit, staySeconds })}
          />
        </fieldset>
        <Refused error={save.error} />
        {mayEdit && (
          <p>
            <Button kind="primary" type="submit" disabled={!differs || save.isPending}>
              Keep the kit
            </Button>
          </p>
        )}
      </form>
      <div className="grid content-start gap-5">
        <div className="grid gap-2">
          <h2 className="text-[15px] leading-6">As it is met</h2>
          <Sample kit={kit} />
          <ul className="grid gap-1">
            {data.pairs.map((pair) => (
              <li key={pair.what} className="flex items-center gap-2">
                <span
                  aria-hidden="true"
                  className="grid h-6 w-9 place-items-center rounded border border-hair text-[12px] font-bold"
                  style={{ background: pair.lower, color: pair.upper }}
                >
                  Aa
                </span>
                {pair.what}
                <span className={`ms-auto ${pair.ratio < pair.least ? 'font-semibold text-warn' : 'text-soft'}`}>
                  {pair.ratio.toFixed(1)} to 1{pair.ratio < pair.least && `, ${pair.least} is needed`}
                </span>
              </li>
            ))}
          </ul>
          {differs && data.isSet && <p className="text-[12px] leading-4 text-soft">The figures are of the kit as it was kept last.</p>}
        </div>
        {data.isSet && (
          <div className="grid gap-1">
            <h2 className="text-[15px] leading-6">What looks otherwise</h2>
            {data.others.length === 0 ? (
              <p className="text-soft">Nothing: all of it looks so.</p>
            ) : (
              <>
                <p className="text-soft">
                  {plural(data.others.length, 'draft')} would change by taking the kit over. What is live stays until it is published.
                </p>
                <ul>
                  {data.others.map((other) => (
                    <li key={other.id} className="flex min-h-9 items-center gap-3 border-t border-hair">
                      <span className="min-w-0 flex-1">
                        {other.name}{' '}
                        <span className="text-soft">
                          {other.kind}
                          {other.isLive && ', live'}
                        </span>
                      </span>
                      {mayAct(member, 'draft') && (
                        <Button
                          kind="link"
                          aria-label={`Let ${other.name} take the kit over`}
                          disabled={over.isPending}
                          onClick={() => over.mutate([other.id])}
                        >
                          Take it over
                        </Button>
                      )}
                    </li>
                  ))}
                </ul>
                {mayAct(member, 'draft') && data.others.length > 1 && (
                  <p>
                    <Button disabled={over.isPending} onClick={() => over.mutate(data.others.map((o) => o.id))}>
                      All of them
                    </Button>
                  </p>
                )}
              </>
            )}
            <Refused error={over.error} />
          </div>
        )}
      </div>
    </section>
  );
}

function Colour({ label, value, onPick }: { label: string; value: string; onPick(colour: string): void }) {
  return (
    <label className="flex items-center gap-3">
      <input type="color" value={value} onChange={(e) => onPick(e.currentTarget.value.toUpperCase())} />
      <span>
        {label} <span className="font-mono text-[12px] text-soft">{value}</span>
      </span>
    </label>
  );
}

/** A slip in the kit's colours, as a page would have it. */
function Sample({ kit }: { kit: BrandKit }) {
  return (
    <div className={`flex rounded border border-hair bg-paper p-4 ${kit.onRight ? 'justify-end' : ''}`}>
      <div
        className="w-[280px] rounded-[10px] border-s-4 p-3 text-[14px] shadow-md"
        style={{ background: kit.ground, borderColor: kit.band, color: inkOn(kit.ground) }}
      >
        <strong>Somebody</strong> did something true
        <span className="mt-2 block w-fit rounded px-2 py-1 text-[13px]" style={{ background: kit.band, color: inkOn(kit.band) }}>
          A button
        </span>
      </div>
    </div>
  );
}

// As the server chooses the ink: whichever of dark and light reads better there.
function inkOn(ground: string): string {
  const [r, g, b] = [1, 3, 5].map((i) => {
    const part = Number.parseInt(ground.slice(i, i + 2), 16) / 255;
    return part <= 0.04045 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  return 0.2126 * r + 0.7152 * g + 0.0722 * b > 0.18 ? '#15181E' : '#FFFFFF';
}

import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { kitQuery } from '../catalogue/kit';
import { LettersFields } from '../catalogue/LettersFields';
import { PictureChoice } from '../catalogue/PictureChoice';
import { say } from '../data/toasts';
import { Button } from '../kit/Button';
import { Choice, NumberField } from '../kit/Field';
import { Failed, Waiting } from '../kit/Notice';
import { Refused } from '../kit/Panel';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { type BrandKit, setKit } from './api';
import { KitMet } from './KitMet';
import { TonesEditor } from './TonesEditor';
import { WhatLooksOtherwise } from './WhatLooksOtherwise';

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
  const put = (change: Partial<BrandKit>) => setTyped({ ...kit, ...change });
  const save = useMutation({
    mutationFn: () => setKit(site.id, kit),
    onSuccess: (view) => {
      queries.setQueryData(kitQuery(site.id).queryKey, view);
      void queries.invalidateQueries({ queryKey: ['pictures'] });
      say('New callouts and launchers begin in it.');
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
        <fieldset disabled={!mayEdit} className="grid min-w-0 gap-4">
          <legend className="sr-only">The kit</legend>
          <Colour label="Band and button" value={kit.band} onPick={(band) => put({ band })} />
          <Colour label="Ground" value={kit.ground} onPick={(ground) => put({ ground })} />
          <LettersFields look={kit} onChange={put} />
          <Choice
            legend="Side of the screen"
            value={kit.onRight ? 'right' : 'left'}
            choices={[
              ['left', 'left'],
              ['right', 'right'],
            ]}
            onChoose={(side) => put({ onRight: side === 'right' })}
          />
          <NumberField
            label="A callout stays"
            after="seconds"
            min={2}
            max={120}
            value={kit.staySeconds}
            onValue={(staySeconds) => put({ staySeconds })}
          />
          <Picture
            label="Logo"
            hint="Speaks in a launcher where nobody in particular does."
            address={kit.logo}
            onChoose={(logo) => put({ logo })}
          />
          <Picture
            label="Usual picture"
            hint="Where a callout would have a plain sign."
            address={kit.picture}
            onChoose={(picture) => put({ picture })}
          />
          <TonesEditor tones={kit.tones ?? []} onTones={(tones) => put({ tones })} />
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
        <KitMet kit={kit} />
        {data.isSet && <WhatLooksOtherwise others={data.others} />}
      </div>
    </section>
  );
}

/** A picture of the kit, or none; found in a list that opens when it is wanted. */
function Picture({ label, hint, address, onChoose }: { label: string; hint: string; address: string; onChoose(address: string): void }) {
  const [opens, setOpens] = useState(false);
  return (
    <div className="grid gap-1" role="group" aria-label={label}>
      <span className="flex items-center gap-3">
        {address ? (
          <img src={address} alt="" className="h-9 w-9 rounded border border-hair object-cover" />
        ) : (
          <span aria-hidden="true" className="h-9 w-9 rounded border border-dashed border-hair" />
        )}
        <b className="font-semibold">{label}</b>
        <Button kind="link" aria-expanded={opens} onClick={() => setOpens(!opens)}>
          {opens ? 'Done' : address ? 'Another' : 'Choose one'}
        </Button>
        {address && (
          <Button kind="link" onClick={() => onChoose('')}>
            None
          </Button>
        )}
      </span>
      <span className="text-[12px] leading-4 text-soft">{hint}</span>
      {opens && <PictureChoice address={address} onChoose={onChoose} />}
    </div>
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

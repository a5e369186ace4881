import { PictureChoice } from '../catalogue/PictureChoice';
import { Choice, TextField, Tick } from '../kit/Field';
import { TypedInput } from '../kit/Typed';
import type { Brief } from './types';

type Say = Brief['say'];
type Change = (change: Partial<Say>) => void;

/** How exactly times and numbers are said, and a code to copy. */
export function MannerEditor({ kind, say, onChange }: { kind: Brief['kind']; say: Say; onChange: Change }) {
  if (kind === 'notice')
    return (
      <TextField
        label="Code to copy"
        hint="Visitors get a button that copies it; empty for none. In the message it is {{ code }}."
        value={say.code}
        maxLength={40}
        onText={(code) => onChange({ code })}
      />
    );
  if (kind === 'moment' || kind === 'quote')
    return (
      <Choice
        legend="Time, under the words"
        value={say.time}
        choices={[
          ['ago', 'how long ago: "12 minutes ago"'],
          ['rough', 'roughly: "today", "this week", "recently"'],
          ['clock24', 'the time of day: "14:05"'],
          ['clock12', 'the time of day: "2:05 PM"'],
          ['hidden', 'none'],
        ]}
        onChoose={(time) => onChange({ time })}
      />
    );
  return (
    <Choice
      legend="Numbers"
      value={say.number}
      choices={[
        ['exact', 'as they are: 38'],
        ['rounded', 'rounded down: 30+'],
        ['hidden', "hidden: the token's fallback stands in their place"],
      ]}
      onChoose={(number) => onChange({ number })}
    />
  );
}

/** Picture. */
export function PictureEditor({ kind, say, onChange }: { kind: Brief['kind']; say: Say; onChange: Change }) {
  // What tells no single event has no product, no person and no place to picture.
  const ofOne = kind === 'moment' || kind === 'quote' || kind === 'remainder';
  return (
    <div className="grid gap-3">
      <Choice
        legend="Picture"
        value={say.picture}
        choices={[
          ...(ofOne || say.picture === 'product' ? [['product', "The product's picture, or initials where it has none"] as const] : []),
          ...(ofOne || say.picture === 'initials' ? [['initials', "The person's initials"] as const] : []),
          ...(ofOne || say.picture === 'map'
            ? [['map', 'A small map of the country it happened in, or initials where that may not be told'] as const]
            : []),
          ['sign', 'A plain sign'],
          ['image', 'One picture for all'],
          ['none', 'None'],
        ]}
        onChoose={(picture) => onChange({ picture })}
      />
      {say.picture === 'image' && (
        <PictureChoice address={say.pictureAddress} onChoose={(pictureAddress) => onChange({ pictureAddress })} />
      )}
    </div>
  );
}

/** Where a click leads. */
export function LinkEditor({ kind, say, onChange }: { kind: Brief['kind']; say: Say; onChange: Change }) {
  const hasProduct = kind === 'moment' || kind === 'quote' || kind === 'remainder' || say.link === 'product';
  return (
    <div className="grid gap-3">
      <Choice
        legend="A click leads to"
        value={say.link}
        choices={[...(hasProduct ? [['product', "the product's page"] as const] : []), ['address', 'an address'], ['none', 'nowhere']]}
        onChoose={(link) => onChange({ link })}
      />
      {say.link === 'address' && (
        <label className="grid gap-1">
          Address, or a path such as /shop
          <TypedInput value={say.linkAddress} onValue={(linkAddress) => onChange({ linkAddress })} />
        </label>
      )}
      {say.link !== 'none' && (
        <>
          <TextField
            label="Button"
            hint="Its words; empty makes the whole callout the link."
            value={say.button}
            maxLength={40}
            onChange={(e) => onChange({ button: e.currentTarget.value })}
          />
          <Tick checked={say.newTab} onTick={(newTab) => onChange({ newTab })}>
            Open it in a new tab
          </Tick>
          <TextField
            label="Campaign"
            hint="Appended to the link as utm_campaign, with utm_source and utm_medium; empty for none."
            value={say.campaign}
            maxLength={100}
            onChange={(e) => onChange({ campaign: e.currentTarget.value })}
          />
        </>
      )}
    </div>
  );
}

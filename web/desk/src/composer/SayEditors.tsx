import { X } from 'lucide-react';
import type { Brief } from '../callouts/api';
import { LANGUAGES, languageName } from '../lib/languages';
import { Button } from '../ui/Button';
import { Choice, TextField, Tick } from '../ui/Field';
import { PictureChoice } from './PictureChoice';

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
        onChange={(e) => onChange({ code: e.currentTarget.value.trim() })}
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

/** The line under the message. */
export function DetailField({ say, onChange }: { say: Say; onChange: Change }) {
  return (
    <label className="grid gap-1">
      <span className="font-semibold">A line under it, if wanted</span>
      <input
        className="font-mono text-[12.5px]"
        defaultValue={say.detail}
        maxLength={500}
        onChange={(e) => onChange({ detail: e.currentTarget.value })}
      />
    </label>
  );
}

const OFFERED = LANGUAGES.filter((l) => l !== 'en');

/** The same words in other languages. A visitor reads the longest match of a language they want, else the site's own. */
export function LanguagesEditor({ say, onChange }: { say: Say; onChange: Change }) {
  const { translations } = say;
  const set = (place: number, change: Partial<Say['translations'][number]>) =>
    onChange({ translations: translations.map((t, i) => (i === place ? { ...t, ...change } : t)) });
  const next = OFFERED.find((l) => !translations.some((t) => t.language === l)) ?? 'sv';
  return (
    <div className="grid gap-3">
      <p className="text-soft">
        Visitors read the first of their languages that stands here, else the site's own. Numbers, times and plural forms follow by
        themselves.
      </p>
      {translations.map((t, place) => (
        <div key={place} className="grid gap-2 border-b border-hair pb-3">
          <div className="flex items-center gap-2">
            <label className="flex items-center gap-2">
              Language
              <input
                list="languages"
                className="w-20 font-mono text-[12.5px]"
                defaultValue={t.language}
                maxLength={35}
                onChange={(e) => set(place, { language: e.currentTarget.value.trim() })}
              />
            </label>
            <span className="flex-1 text-soft">{languageName(t.language)}</span>
            <button
              type="button"
              aria-label={`Remove ${languageName(t.language)}`}
              className="grid h-8 w-8 place-items-center"
              onClick={() => onChange({ translations: translations.filter((_, i) => i !== place) })}
            >
              <X className="h-4 w-4" />
            </button>
          </div>
          <textarea
            rows={2}
            aria-label={`Message in ${languageName(t.language)}`}
            dir="auto"
            className="font-mono text-[12.5px]"
            defaultValue={t.message}
            maxLength={500}
            onChange={(e) => set(place, { message: e.currentTarget.value })}
          />
          {say.detail && (
            <input
              aria-label={`Line under it in ${languageName(t.language)}`}
              dir="auto"
              className="font-mono text-[12.5px]"
              defaultValue={t.detail}
              maxLength={500}
              onChange={(e) => set(place, { detail: e.currentTarget.value })}
            />
          )}
          {say.button && (
            <input
              aria-label={`Button in ${languageName(t.language)}`}
              dir="auto"
              defaultValue={t.button}
              maxLength={40}
              onChange={(e) => set(place, { button: e.currentTarget.value })}
            />
          )}
        </div>
      ))}
      <datalist id="languages">
        {OFFERED.map((l) => (
          <option key={l} value={l}>
            {languageName(l)}
          </option>
        ))}
      </datalist>
      <p>
        <Button
          onClick={() =>
            onChange({ translations: [...translations, { language: next, message: say.message, detail: say.detail, button: say.button }] })
          }
        >
          Add a language
        </Button>
      </p>
    </div>
  );
}

/** Picture. */
export function PictureEditor({ say, onChange }: { say: Say; onChange: Change }) {
  return (
    <div className="grid gap-3">
      <Choice
        legend="Picture"
        value={say.picture}
        choices={[
          ['product', "The product's picture, or initials where it has none"],
          ['initials', "The person's initials"],
          ['map', 'A small map of the country it happened in, or initials where that may not be told'],
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
export function LinkEditor({ say, onChange }: { say: Say; onChange: Change }) {
  return (
    <div className="grid gap-3">
      <Choice
        legend="A click leads to"
        value={say.link}
        choices={[
          ['product', "the product's page"],
          ['address', 'an address'],
          ['none', 'nowhere'],
        ]}
        onChoose={(link) => onChange({ link })}
      />
      {say.link === 'address' && (
        <label className="grid gap-1">
          Address, or a path such as /shop
          <input defaultValue={say.linkAddress} onChange={(e) => onChange({ linkAddress: e.currentTarget.value })} />
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

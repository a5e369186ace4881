import { useQuery } from '@tanstack/react-query';
import { ChevronDown } from 'lucide-react';
import { useId, useState } from 'react';
import { segmentsQuery } from '../catalogue/api';
import { Button } from '../kit/Button';
import { LANGUAGES, languageName } from '../kit/languages';
import { PhraseMenu } from '../kit/PhraseMenu';
import { PhrasePopover } from '../kit/PhrasePopover';
import { useDesk } from '../session/desk';
import { localNow, sayAt } from '../visits/asOf';
import type { Persona, SheetSearch } from './api';

const PERSONAS: readonly (readonly [Persona, string])[] = [
  ['new', 'new visitor'],
  ['backAfterADay', 'visitor back after a day, who met everything then'],
  ['closedOne', 'visitor who closed a callout an hour ago'],
];

const DEVICES = [
  ['desktop', 'desktop'],
  ['tablet', 'tablet'],
  ['phone', 'phone'],
] as const;

/** Whose sheet it is, as of when: one sentence whose marked phrases are the controls. */
export function SheetSentence({ search, onChange }: { search: SheetSearch; onChange(change: SheetSearch): void }) {
  const { site } = useDesk();
  const { data: segments } = useQuery(segmentsQuery(site.id));
  // On a phone the whole sentence would take a third of the screen from the sheet.
  const [isOpen, setOpen] = useState(false);
  const id = useId();
  return (
    <>
      <button
        type="button"
        aria-expanded={isOpen}
        aria-controls={id}
        onClick={() => setOpen(!isOpen)}
        className="flex min-h-11 min-w-0 basis-full items-center gap-1 text-start order-last font-display text-[15px] leading-5 sm:hidden"
      >
        <span className="min-w-0 flex-1">{inShort(search, segments ?? [])}</span>
        <ChevronDown aria-hidden="true" className={`h-4 w-4 flex-none ${isOpen ? 'rotate-180' : ''}`} />
      </button>
      <p id={id} className={`min-w-0 font-display text-[16px] leading-[28px] max-sm:order-last ${isOpen ? '' : 'max-sm:hidden'}`}>
        Seen by a{' '}
        <PhraseMenu
          facet="who"
          label="Seen by"
          value={search.persona ?? 'new'}
          choices={PERSONAS}
          onChoose={(persona) => onChange({ persona: persona === 'new' ? undefined : persona })}
        />{' '}
        from{' '}
        <PhraseMenu
          facet="who"
          label="Segment"
          value={search.segment ?? ''}
          choices={[['', 'any segment'], ...(segments ?? []).map((s) => [s.id, s.name] as const)]}
          onChoose={(segment) => onChange({ segment: segment || undefined })}
        />{' '}
        on a{' '}
        <PhraseMenu
          facet="who"
          label="Device"
          value={search.device ?? 'desktop'}
          choices={DEVICES}
          onChoose={(device) => onChange({ device: device === 'desktop' ? undefined : device })}
        />
        , reading{' '}
        <PhraseMenu
          facet="who"
          label="Language"
          value={search.language ?? ''}
          choices={[
            ['', languageName(site.language)],
            ...LANGUAGES.filter((tag) => tag !== site.language).map((tag) => [tag, languageName(tag)] as const),
          ]}
          onChoose={(language) => onChange({ language: language || undefined })}
        />
        , as of{' '}
        <PhrasePopover facet="when" label="As of" words={sayAt(search.at)}>
          {(close) => (
            <AsOf
              at={search.at}
              timeZone={site.timeZone}
              onChoose={(at) => {
                onChange({ at });
                close();
              }}
            />
          )}
        </PhrasePopover>
      </p>
    </>
  );
}

/** The same in a few words. */
function inShort(search: SheetSearch, segments: readonly { id: string; name: string }[]): string {
  const who = PERSONAS.find(([p]) => p === (search.persona ?? 'new'))?.[1].split(',')[0] ?? '';
  const segment = segments.find((s) => s.id === search.segment)?.name;
  return [`Seen by a ${who}`, segment, `on a ${search.device ?? 'desktop'}`, search.at ? `as of ${sayAt(search.at)}` : 'now']
    .filter(Boolean)
    .join(', ');
}

function AsOf({ at, timeZone, onChoose }: { at: string | undefined; timeZone: string; onChoose(at: string | undefined): void }) {
  const [typed, setTyped] = useState(at ?? localNow(timeZone));
  return (
    <form
      className="grid gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (typed) onChoose(typed);
      }}
    >
      <label className="grid gap-1">
        <span className="font-semibold">Date and time</span>
        <input type="datetime-local" value={typed} onChange={(e) => setTyped(e.currentTarget.value)} />
        <span className="text-[12px] leading-4 text-soft">
          On the clock of {timeZone}. What lies back is told from the events known then; what is to come, from those known now.
        </span>
      </label>
      <p className="flex gap-2">
        <Button kind="primary" type="submit">
          Show that hour
        </Button>
        <Button onClick={() => onChoose(undefined)}>Now</Button>
      </p>
    </form>
  );
}

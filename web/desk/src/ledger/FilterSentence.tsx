import { Popover } from 'radix-ui';
import { useState } from 'react';
import type { Source } from '../brief/types';
import { markerOf } from '../kit/Phrase';
import { PhraseMenu } from '../kit/PhraseMenu';
import { KINDS } from './words';

interface Search {
  source?: string | undefined;
  kind?: string | undefined;
  state?: string | undefined;
  page?: string | undefined;
  text?: string | undefined;
  hours?: number | undefined;
}

const STATES = [
  ['', 'every event'],
  ['usable', 'usable events'],
  ['held', 'events to review'],
  ['ownTest', "members' own tests"],
  ['hidden', 'hidden events'],
  ['duplicate', 'duplicates'],
  ['tooOld', 'events too old for every callout'],
] as const;

const PERIODS = [
  ['24', 'the last 24 hours'],
  ['168', 'the last 7 days'],
  ['720', 'the last 30 days'],
  ['0', 'all time'],
] as const;

const KIND_CHOICES = [['', 'any kind'], ...Object.entries(KINDS).map(([kind, [one]]) => [kind, one] as const)] as const;

/** The ledger's filter as a sentence whose marked phrases are the controls. */
export function FilterSentence({
  search,
  sources,
  onSet,
}: {
  search: Search;
  sources: readonly Source[];
  onSet(change: Partial<Search>): void;
}) {
  return (
    <p className="font-display text-[16px] leading-[28px]">
      Showing{' '}
      <PhraseMenu
        facet="from"
        label="State"
        value={search.state ?? ''}
        choices={STATES}
        onChoose={(v) => onSet({ state: v || undefined })}
      />{' '}
      of{' '}
      <PhraseMenu
        facet="from"
        label="Kind"
        value={search.kind ?? ''}
        choices={KIND_CHOICES}
        onChoose={(v) => onSet({ kind: v || undefined })}
      />{' '}
      from{' '}
      <PhraseMenu
        facet="from"
        label="Source"
        value={search.source ?? ''}
        choices={[['', 'all sources'] as const, ...sources.map((s) => [s.id, s.name] as const)]}
        onChoose={(v) => onSet({ source: v || undefined })}
      />{' '}
      <TypedPhrase
        facet="where"
        label="Page"
        words={search.page ? `on ${search.page}` : 'on any page'}
        hint="A part of the page's address."
        placeholder="/workshops/"
        value={search.page ?? ''}
        onTyped={(page) => onSet({ page })}
      />{' '}
      in{' '}
      <PhraseMenu
        facet="from"
        label="Period"
        value={String(search.hours ?? 168)}
        choices={PERIODS}
        onChoose={(v) => onSet({ hours: Number(v) })}
      />{' '}
      <TypedPhrase
        facet="say"
        label="Words"
        words={search.text ? `with “${search.text}”` : 'with any words'}
        hint="Beginnings of words in the name, place, product or category."
        placeholder="raku leeds"
        value={search.text ?? ''}
        onTyped={(text) => onSet({ text })}
      />
    </p>
  );
}

function TypedPhrase({
  facet,
  label,
  words,
  hint,
  placeholder,
  value,
  onTyped,
}: {
  facet: 'where' | 'say';
  label: string;
  words: string;
  hint: string;
  placeholder: string;
  value: string;
  onTyped(value: string | undefined): void;
}) {
  const [open, setOpen] = useState(false);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className="phrase" style={markerOf(facet)} aria-label={`${label}: ${words}`}>
        {words}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={6}
          aria-label={label}
          className="z-50 w-72 rounded border border-ink bg-sheet p-3 shadow-lg"
        >
          <form
            className="grid gap-2"
            onSubmit={(event) => {
              event.preventDefault();
              const typed = String(new FormData(event.currentTarget).get('typed')).trim();
              onTyped(typed || undefined);
              setOpen(false);
            }}
          >
            <label className="grid gap-1 font-semibold">
              {label}
              <input name="typed" defaultValue={value} placeholder={placeholder} className="font-normal placeholder:text-soft" />
            </label>
            <p className="text-[12px] leading-4 text-soft">{hint} Enter to filter, empty for all.</p>
          </form>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

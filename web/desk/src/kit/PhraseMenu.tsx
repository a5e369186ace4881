import { ChevronDown } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { type Facet, markerOf } from './Phrase';

/** A marked phrase that is a choice among few. */
export function PhraseMenu<T extends string>({
  facet,
  label,
  value,
  choices,
  onChoose,
}: {
  facet: Facet;
  label: string;
  value: T;
  choices: readonly (readonly [value: T, words: string])[];
  onChoose(value: T): void;
}) {
  const words = choices.find(([v]) => v === value)?.[1] ?? value;
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger className="phrase" style={markerOf(facet)} aria-label={`${label}: ${words}`}>
        {words} <ChevronDown className="inline h-3.5 w-3.5" aria-hidden="true" />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="start"
          sideOffset={6}
          className="z-50 max-h-[60vh] min-w-44 overflow-auto rounded border border-ink bg-sheet p-1 shadow-lg"
        >
          <DropdownMenu.RadioGroup value={value} onValueChange={(v) => onChoose(v as T)}>
            {choices.map(([v, said]) => (
              <DropdownMenu.RadioItem
                key={v}
                value={v}
                className="flex min-h-8 cursor-pointer items-center rounded px-2 outline-none data-[highlighted]:bg-selectwash data-[state=checked]:font-semibold"
              >
                {said}
              </DropdownMenu.RadioItem>
            ))}
          </DropdownMenu.RadioGroup>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

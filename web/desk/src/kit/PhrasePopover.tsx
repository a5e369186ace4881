import { ChevronDown } from 'lucide-react';
import { Popover } from 'radix-ui';
import { type ReactNode, useState } from 'react';
import { type Facet, markerOf } from './Phrase';

/** A marked phrase that opens a small editor of its own. */
export function PhrasePopover({
  facet,
  label,
  words,
  children,
}: {
  facet: Facet;
  label: string;
  words: ReactNode;
  children(close: () => void): ReactNode;
}) {
  const [open, setOpen] = useState(false);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className="phrase" style={markerOf(facet)} aria-label={`${label}: ${typeof words === 'string' ? words : ''}`}>
        {words} <ChevronDown className="inline h-3.5 w-3.5" aria-hidden="true" />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={6}
          aria-label={label}
          className="z-50 max-h-[70vh] w-[320px] max-w-[calc(100vw-24px)] overflow-auto rounded border border-ink bg-sheet p-3 font-sans text-[13px] leading-5 shadow-lg"
        >
          {children(() => setOpen(false))}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

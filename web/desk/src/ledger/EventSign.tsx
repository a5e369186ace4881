import { Check, EyeOff, SquareDashed } from 'lucide-react';
import type { LedgerEvent } from './api';

/** An event's state as a sign and words. */
export function EventSign({ event }: { event: Pick<LedgerEvent, 'state' | 'hiddenBy'> }) {
  switch (event.state) {
    case 'usable':
      return (
        <span className="flex gap-2">
          <Check className="mt-0.5 h-4 w-4 flex-none text-good" aria-hidden="true" /> Usable
        </span>
      );
    case 'hidden':
      return (
        <span className="flex gap-2">
          <EyeOff className="mt-0.5 h-4 w-4 flex-none" aria-hidden="true" />
          <span>
            Hidden{event.hiddenBy && <span className="block text-[12px] leading-4 text-soft">by {event.hiddenBy.split(' ')[0]}</span>}
          </span>
        </span>
      );
    case 'ownTest':
      return (
        <span className="flex gap-2">
          <SquareDashed className="mt-0.5 h-4 w-4 flex-none" aria-hidden="true" />
          <span>
            Own test <span className="block text-[12px] leading-4 text-soft">never public</span>
          </span>
        </span>
      );
  }
}

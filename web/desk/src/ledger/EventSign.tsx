import { Check, Copy, EyeOff, Fence, Hourglass, SquareDashed } from 'lucide-react';
import type { ReactNode } from 'react';
import type { LedgerEvent } from './api';

/** An event's state as a sign and words, so that neither colour nor shape alone carries it. */
export function EventSign({ event }: { event: Pick<LedgerEvent, 'state' | 'hiddenBy' | 'heldBecause' | 'tooOld'> }) {
  switch (event.state) {
    case 'usable':
      return event.tooOld ? (
        <Sign icon={<Hourglass className={SIGN} aria-hidden="true" />} word="Too old" under="for every callout" />
      ) : (
        <Sign icon={<Check className={`${SIGN} text-good`} aria-hidden="true" />} word="Usable" />
      );
    case 'held':
      return (
        <Sign
          icon={<Fence className={`${SIGN} text-warn`} aria-hidden="true" />}
          word="Held"
          under={event.heldBecause === RUSH ? 'came in a rush' : event.heldBecause ? 'blocked word' : 'to review'}
        />
      );
    case 'hidden':
      return (
        <Sign
          icon={<EyeOff className={SIGN} aria-hidden="true" />}
          word="Hidden"
          under={event.hiddenBy ? `by ${event.hiddenBy.split(' ')[0]}` : (event.heldBecause ?? undefined)}
        />
      );
    case 'ownTest':
      return <Sign icon={<SquareDashed className={SIGN} aria-hidden="true" />} word="Own test" under="never public" />;
    case 'duplicate':
      return <Sign icon={<Copy className={SIGN} aria-hidden="true" />} word="Duplicate" under="reported twice" />;
    default:
      return null;
  }
}

/** Stands where a blocked word stands otherwise, for what came with many others. */
export const RUSH = 'many more at once than usual';

const SIGN = 'mt-0.5 h-4 w-4 flex-none';

function Sign({ icon, word, under }: { icon: ReactNode; word: string; under?: string | undefined }) {
  return (
    <span className="flex gap-2">
      {icon}
      <span>
        {word}
        {under && <span className="block text-[12px] leading-4 text-soft">{under}</span>}
      </span>
    </span>
  );
}

const UNUSUAL: Partial<Record<NonNullable<LedgerEvent['state']>, string>> = {
  held: 'Held',
  hidden: 'Hidden',
  ownTest: 'Own test',
  duplicate: 'Repeat',
};

/** What is out of the ordinary about an event, in a word, for where there is no room for its sign. */
export const unusualWord = (event: Pick<LedgerEvent, 'state' | 'tooOld'>) =>
  event.state === 'usable' && event.tooOld ? 'Too old' : UNUSUAL[event.state ?? 'usable'];

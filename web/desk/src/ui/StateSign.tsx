import type { Schema } from '../lib/api';

type State = Schema<'CalloutState'>;

const WORDS: Record<State, string> = { draft: 'Draft', live: 'Live', paused: 'Paused', archived: 'Archived' };

/** A callout's state as a sign and a word, so that neither colour nor shape alone carries it. */
export function StateSign({ state }: { state: State }) {
  return (
    <span className="inline-flex items-center gap-1.5 whitespace-nowrap">
      <svg viewBox="0 0 12 12" className="h-3 w-3 flex-none" aria-hidden="true">
        {state === 'live' && <circle cx="6" cy="6" r="5" fill="#FFB81C" stroke="#15181E" strokeWidth="1.5" />}
        {state === 'draft' && <circle cx="6" cy="6" r="5" fill="none" stroke="#15181E" strokeWidth="1.5" />}
        {state === 'paused' && <path d="M3 1h2v10H3zM7 1h2v10H7z" fill="#15181E" />}
        {state === 'archived' && <path d="M1 5h10v2H1z" fill="#15181E" />}
      </svg>
      {WORDS[state]}
    </span>
  );
}

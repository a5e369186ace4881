import type { Schema } from '../data/api';

type Standing = Schema<'CalloutStanding'>;

const WORDS: Record<Standing, string> = {
  draft: 'Draft',
  scheduled: 'Scheduled',
  live: 'Live',
  ended: 'Ended',
  paused: 'Paused',
  archived: 'Archived',
};

/** How a callout stands, as a sign and a word, so that neither colour nor shape alone carries it. */
export function StateSign({ state }: { state: Standing }) {
  return (
    <span className="inline-flex items-center gap-1.5 whitespace-nowrap">
      <svg viewBox="0 0 12 12" className="h-3 w-3 flex-none" aria-hidden="true">
        {state === 'live' && <circle cx="6" cy="6" r="5" fill="#FFB81C" stroke="#15181E" strokeWidth="1.5" />}
        {state === 'draft' && <circle cx="6" cy="6" r="5" fill="none" stroke="#15181E" strokeWidth="1.5" />}
        {state === 'scheduled' && (
          <path d="M6 1a5 5 0 1 0 0 10A5 5 0 0 0 6 1zm0 2.5V6l2 1.5" fill="none" stroke="#15181E" strokeWidth="1.5" />
        )}
        {state === 'ended' && <path d="M2 2h8v8H2z" fill="#15181E" />}
        {state === 'paused' && <path d="M3 1h2v10H3zM7 1h2v10H7z" fill="#15181E" />}
        {state === 'archived' && <path d="M1 5h10v2H1z" fill="#15181E" />}
      </svg>
      {WORDS[state]}
    </span>
  );
}

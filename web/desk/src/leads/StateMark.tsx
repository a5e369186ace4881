import type { LeadState } from './api';

const WORDS: Record<LeadState, string> = {
  waiting: 'not confirmed yet',
  confirmed: 'may be written to',
  withdrawn: 'took it back',
  unreachable: 'cannot be reached',
};

const DOTS: Record<LeadState, string> = {
  waiting: 'border-ink border-dashed bg-transparent',
  confirmed: 'border-ink bg-[#2f8f5b]',
  withdrawn: 'border-ink bg-ink',
  unreachable: 'border-bad bg-transparent',
};

/** How a lead stands, by sign and word. */
export function StateMark({ state }: { state: LeadState }) {
  return (
    <span className="inline-flex items-center gap-2">
      <span className={`h-[9px] w-[9px] flex-none rounded-full border ${DOTS[state]}`} aria-hidden="true" />
      {WORDS[state]}
    </span>
  );
}

import { Mail } from 'lucide-react';
import { initials } from '../session/model';

// Soft grounds that ink stands on with 10:1 or more; who has which follows from the name.
const GROUNDS = ['#c9d6c2', '#e8cbb5', '#c9d3e6', '#e3d3a4', '#d8cde6', '#bfd9d6'];

const groundOf = (name: string) => GROUNDS[[...name].reduce((sum, letter) => sum + letter.charCodeAt(0), 0) % GROUNDS.length];

/** A member by two letters; whoever is only invited by a letter of another sort. */
export function Face({ name, isSelf, isInvited }: { name: string; isSelf?: boolean; isInvited?: boolean }) {
  return (
    <span
      aria-hidden="true"
      className={`grid h-7 w-7 flex-none place-items-center rounded font-display text-[12px] font-bold ${isSelf ? 'bg-ink text-white' : ''}`}
      style={isSelf ? undefined : { background: groundOf(name) }}
    >
      {isInvited ? <Mail className="h-4 w-4" /> : initials(name)}
    </span>
  );
}

import { Link } from '@tanstack/react-router';
import type { Schema } from '../lib/api';

/** What names a shared piece; as long as anything does, it cannot be removed. */
export function UsedBy({ uses }: { uses: readonly Schema<'UseView'>[] }) {
  if (uses.length === 0) return <p className="text-soft">Nothing names it.</p>;
  return (
    <ul>
      {uses.map((use) => (
        <li key={use.id} className="py-0.5">
          {use.isCallout ? (
            <Link to="/callouts/$calloutId" params={{ calloutId: use.id }} className="text-cobalt hover:underline">
              {use.name}
            </Link>
          ) : (
            <>the segment {use.name}</>
          )}
        </li>
      ))}
    </ul>
  );
}

import { Link } from '@tanstack/react-router';
import type { Schema } from '../data/api';

const LINK = 'text-cobalt hover:underline';

/** What names a shared piece; as long as anything does, it cannot be removed. */
export function UsedBy({ uses }: { uses: readonly Schema<'UseView'>[] }) {
  if (uses.length === 0) return <p className="text-soft">Nothing names it.</p>;
  return (
    <ul>
      {uses.map((use) => (
        <li key={use.id} className="py-0.5">
          <Use use={use} />
        </li>
      ))}
    </ul>
  );
}

function Use({ use: { id, kind, name } }: { use: Schema<'UseView'> }) {
  if (kind === 'callout')
    return (
      <Link to="/callouts/$calloutId" params={{ calloutId: id }} className={LINK}>
        {name}
      </Link>
    );
  if (kind === 'launcher')
    return (
      <Link to="/launchers/$launcherId" params={{ launcherId: id }} className={LINK}>
        {name}
      </Link>
    );
  if (kind === 'brand kit')
    return (
      <Link to="/team" search={{ view: 'kit' }} className={LINK}>
        {name}
      </Link>
    );
  return (
    <Link to="/audience" search={{ view: 'segments', id }} className={LINK}>
      the segment {name}
    </Link>
  );
}

import { useQuery } from '@tanstack/react-query';
import { Refused } from '../kit/Panel';
import { ago } from '../kit/time';
import { useNow } from '../kit/useNow';
import { useDesk } from '../session/desk';
import { useTrial } from '../visits/useTrial';
import { pointsQuery } from './api';

/** Elements that were pointed at on the site's own pages lately, and the way there to point at another. */
export function PointedChoice({ path = '/', onChoose }: { path?: string; onChoose(selector: string): void }) {
  const { site } = useDesk();
  const now = useNow(30_000);
  const { data: points } = useQuery(pointsQuery(site.id));
  const trial = useTrial();
  return (
    <div className="grid gap-1 text-[12px] leading-4">
      {(points ?? []).slice(0, 5).map((p) => (
        <button
          key={p.id}
          type="button"
          onClick={() => onChoose(p.selector)}
          className="grid rounded border border-hair px-2 py-1 text-start hover:bg-selectwash"
        >
          <code className="font-mono break-all">{p.selector}</code>
          <span className="text-soft">
            “{p.label}” on {p.path}, pointed at {ago(p.at, now)}
            {p.matches !== 1 && `; means ${p.matches} elements there`}
          </span>
        </button>
      ))}
      <p>
        <button
          type="button"
          disabled={trial.isPending}
          className="font-semibold text-cobalt hover:underline"
          onClick={() => trial.mutate({ path, visitor: {} })}
        >
          Point at {points?.length ? 'another' : 'it'} on the site
        </button>{' '}
        <span className="text-soft">Opens a trial visit; what is pointed at there appears here.</span>
      </p>
      <Refused error={trial.error} />
    </div>
  );
}

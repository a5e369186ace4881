import { useQuery } from '@tanstack/react-query';
import { Fetched } from '../kit/Notice';
import { ago } from '../kit/time';
import { useNow } from '../kit/useNow';
import { useDesk } from '../session/desk';
import { recordedQuery } from '../visits/api';

/** Recorded visits, the latest first: one becomes the journey. */
export function RecordedChoice({ onChoose }: { onChoose(visitorId: string, number: number): void }) {
  const { site } = useDesk();
  const now = useNow(30_000);
  const recorded = useQuery(recordedQuery(site.id, undefined));
  return (
    <Fetched query={recorded} waiting="Looking for recorded visits">
      {(data) =>
        data.visitors.length === 0 ? (
          <p className="text-soft">No visit was recorded in the last 30 days.</p>
        ) : (
          <ul className="max-h-[50vh] overflow-auto">
            {data.visitors.slice(0, 30).map((v) => (
              <li key={v.id} className="border-b border-hair">
                <button
                  type="button"
                  className="w-full rounded px-2 py-1.5 text-start hover:bg-selectwash"
                  onClick={() => onChoose(v.id, v.visit)}
                >
                  <span className="block">
                    {v.visit === 1 ? 'First visit' : `Visit ${v.visit}`} on a {v.device}
                    {v.place && `, from ${v.place}`}, {v.pages} {v.pages === 1 ? 'page' : 'pages'}
                  </span>
                  <span className="block text-[12px] leading-4 text-soft">
                    in by <code className="font-mono">{v.entry}</code>, {ago(v.lastAt, now)}
                  </span>
                </button>
              </li>
            ))}
          </ul>
        )
      }
    </Fetched>
  );
}

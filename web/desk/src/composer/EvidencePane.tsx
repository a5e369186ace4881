import { useQuery } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import type { Brief } from '../brief/types';
import { Said } from '../kit/Said';
import { clock, day } from '../kit/time';
import { useDesk } from '../session/desk';
import { evidenceQuery } from './api';

const NOUNS: Record<Brief['kind'], [one: string, many: string]> = {
  moment: ['event', 'events'],
  tally: ['counted', 'counted'],
  headcount: ['visitor', 'visitors'],
  remainder: ['product running low', 'products running low'],
  quote: ['quote', 'quotes'],
  standing: ['in all', 'in all'],
  notice: ['', ''],
  prompt: ['', ''],
};

const noun = (kind: Brief['kind'], number: number) => NOUNS[kind][number === 1 ? 0 : 1];

/** The true events behind the draft's claim, or what is missing. */
export function EvidencePane({ kind, calloutId, version }: { kind: Brief['kind']; calloutId: string; version: number }) {
  const { site } = useDesk();
  const { data } = useQuery(evidenceQuery(site.id, calloutId, version));
  if (!data) return null;
  const boxes = Array.from({ length: Math.min(data.needs, 12) }, (_, i) => i);
  return (
    <section aria-label="Evidence" className="flex min-h-[120px] flex-none flex-col">
      <div className="flex items-baseline gap-2 border-b border-ink pb-1">
        <h2 className="text-[15px] leading-5">
          {kind === 'notice' ? 'No events needed' : `${data.counted.toLocaleString('en-GB')} ${noun(kind, data.counted)}`}
        </h2>
        {kind !== 'notice' && (
          <span className="text-[12px] text-soft">
            {data.counted > 0 && data.span && `in the last ${data.span}; `}
            {data.needs.toLocaleString('en-GB')} needed
          </span>
        )}
        {data.missing && (
          <span className="flex gap-0.5" aria-hidden="true">
            {boxes.map((i) => (
              <span key={i} className={`h-2.5 w-2 border border-ink ${i < data.counted ? 'bg-ink' : 'border-dashed'}`} />
            ))}
          </span>
        )}
      </div>
      {data.missing && <p className="py-1.5 text-warn">{data.missing}</p>}
      {data.tooLong && <p className="py-1.5 text-warn">{data.tooLong}</p>}
      {data.says && !data.missing && (
        <p className="py-1.5">
          It says now: <b>{data.says}</b>
        </p>
      )}
      {data.leftOut.length > 0 && (
        <p className="py-1 text-[12px] leading-4 text-soft">
          Left out: {data.leftOut.map(({ number, why }) => `${number.toLocaleString('en-GB')} ${why}`).join(', ')}.
        </p>
      )}
      <ul className="max-h-[112px] overflow-auto" tabIndex={0} aria-label="The newest of them">
        {data.rows.map((row) => (
          <li key={row.eventId} className="flex gap-3 border-b border-hair py-[3px]">
            <span className="w-[84px] flex-none whitespace-nowrap text-soft">
              {day(row.at).slice(4)} {clock(row.at)}
            </span>
            <Link
              to="/ledger"
              search={{ event: row.eventId }}
              className="min-w-0 flex-1 overflow-hidden text-ellipsis whitespace-nowrap hover:underline"
            >
              <Said spans={row.spans} />
            </Link>
            <span className="flex-none text-soft">{row.source}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

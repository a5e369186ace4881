import { useQuery } from '@tanstack/react-query';
import { pagesQuery } from '../catalogue/api';
import { KnownPages, Patterns, pathsOf } from '../catalogue/Patterns';
import type { Schema } from '../data/api';
import { Tick } from '../kit/Field';
import { useDesk } from '../session/desk';
import type { Brief } from './types';
import type { Named } from './who';

/** Includes and excludes beside the pages the snippet has been heard from, each with the pattern that decides it. */
export function WhereEditor({
  where,
  groups,
  onChange,
}: {
  where: Brief['where'];
  groups: readonly Named[];
  onChange(change: Partial<Brief['where']>): void;
}) {
  const { site } = useDesk();
  const { data } = useQuery(pagesQuery(site.id, where));
  return (
    <div className="grid gap-4 md:grid-cols-[minmax(0,5fr)_minmax(0,6fr)]">
      <div className="grid min-w-0 grid-cols-[minmax(0,1fr)] content-start gap-2">
        {groups.length > 0 && (
          <fieldset>
            <legend className="font-semibold">Page groups</legend>
            {groups.map((group) => (
              <Tick
                key={group.id}
                checked={where.groups.includes(group.id)}
                onTick={(on) => onChange({ groups: on ? [...where.groups, group.id] : where.groups.filter((g) => g !== group.id) })}
              >
                {group.name}
              </Tick>
            ))}
          </fieldset>
        )}
        <Patterns
          title={where.groups.length > 0 ? 'And on' : 'Show on'}
          empty={where.groups.length > 0 ? 'Nothing else' : 'Every page'}
          adding="Type a pattern or paste an address"
          patterns={where.includes}
          seen={data?.includes ?? []}
          known={pathsOf(data)}
          onChange={(includes) => onChange({ includes })}
        />
        <Patterns
          title="Never on"
          empty="No exception"
          adding="Add an exception"
          patterns={where.excludes}
          seen={data?.excludes ?? []}
          known={pathsOf(data)}
          onChange={(excludes) => onChange({ excludes })}
        />
        {data && data.usualExcludes.length > 0 && (
          <div className="grid gap-1">
            <p className="font-semibold">Usually left out</p>
            {data.usualExcludes.map((offer) => (
              <p key={offer.pattern} className="flex items-baseline gap-2">
                <button
                  type="button"
                  className="min-w-0 text-start font-mono text-[12.5px] break-all text-cobalt hover:underline"
                  onClick={() => onChange({ excludes: [...where.excludes, offer.pattern] })}
                >
                  {offer.pattern}
                </button>
                <span className="text-[12px] text-soft">{LEAVE_OUT_WORDS[offer.sort]}</span>
              </p>
            ))}
          </div>
        )}
        <p className="text-[12px] leading-4 text-soft">
          <code className="font-mono">*</code> is any part between two slashes, <code className="font-mono">**</code> any number of them.
          Never on wins.
        </p>
      </div>
      {data && <KnownPages match={data} />}
    </div>
  );
}

const LEAVE_OUT_WORDS: Record<Schema<'UsualExcludeSort'>, string> = {
  thankYou: 'they have just done it',
  checkout: 'they are paying',
  account: 'they are at work',
  legal: 'nobody buys there',
};

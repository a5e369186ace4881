import { useQuery } from '@tanstack/react-query';
import { useDesk } from '../session/desk';
import { groupsQuery, pagesQuery } from './api';
import { Patterns, pathsOf } from './Patterns';

/**
 * Pages named wherever addresses are typed: what is pasted is read and cleaned, with the result said; known pages are offered
 * while one types, and the pages of a group can be taken over.
 */
export function PagePatterns({
  title,
  empty,
  patterns,
  adding = 'Type a pattern or paste an address',
  onChange,
}: {
  title: string;
  empty: string;
  patterns: readonly string[];
  adding?: string;
  onChange(patterns: string[]): void;
}) {
  const { site } = useDesk();
  const { data } = useQuery(pagesQuery(site.id, { includes: [...patterns], excludes: [], groups: [], replaces: false }));
  const { data: groups } = useQuery(groupsQuery(site.id));
  // A group with exceptions is more than its patterns.
  const offered = (groups ?? []).filter((g) => g.excludes.length === 0 && g.includes.some((p) => !patterns.includes(p)));
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-1">
      <Patterns
        title={title}
        empty={empty}
        adding={adding}
        patterns={patterns}
        seen={data?.includes ?? []}
        known={pathsOf(data)}
        onChange={onChange}
      />
      {offered.length > 0 && (
        <select
          aria-label={`${title}: take the pages of a group`}
          value=""
          onChange={(event) => {
            const group = offered.find((g) => g.id === event.currentTarget.value);
            if (group) onChange([...new Set([...patterns, ...group.includes])]);
          }}
        >
          <option value="">Take the pages of a group</option>
          {offered.map((group) => (
            <option key={group.id} value={group.id}>
              {group.name}: {group.includes.join(', ')}
            </option>
          ))}
        </select>
      )}
    </div>
  );
}

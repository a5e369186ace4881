import { useQuery } from '@tanstack/react-query';
import { useNames } from '../brief/useNames';
import { type Rule, ruleWords } from '../brief/who';
import { segmentsQuery } from '../catalogue/api';
import { Failed, Waiting } from '../kit/Notice';
import { clock, day } from '../kit/time';
import { useDesk } from '../session/desk';
import { type Segment, sizeQuery } from './api';

/** Columns that stay where there is little room. */
const NARROW = new Set(['Segment', 'Visitors, 30 days']);

/** The team's segments: what they ask for, how many visitors they mean, what names them. */
export function SegmentsView({ chosen, onChoose }: { chosen: string | undefined; onChoose(id: string): void }) {
  const { site } = useDesk();
  const list = useQuery(segmentsQuery(site.id));
  if (list.isError) return <Failed error={list.error} again={() => void list.refetch()} />;
  if (!list.data) return <Waiting>Fetching the segments</Waiting>;
  if (list.data.length === 0)
    return (
      <p className="max-w-[560px] p-6 text-soft">
        There is no segment yet. A segment is a named rule over what is known of visitors, such as “back within a week, bought nothing”;
        callouts name it in their Who, and a change of it holds for all of them.
      </p>
    );
  return (
    <table className="w-full border-collapse bg-sheet">
      <thead className="sticky top-0 z-10 bg-paper">
        <tr className="border-b border-ink text-start">
          {['Segment', 'Visitors, 30 days', 'Used by', 'Changed'].map((words) => (
            <th
              key={words}
              scope="col"
              className={`px-4 py-2 text-start font-semibold text-soft ${NARROW.has(words) ? '' : 'max-md:hidden'}`}
            >
              {words}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {list.data.map((segment) => (
          <Row key={segment.id} segment={segment} isChosen={segment.id === chosen} onChoose={() => onChoose(segment.id)} />
        ))}
      </tbody>
    </table>
  );
}

function Row({ segment, isChosen, onChoose }: { segment: Segment; isChosen: boolean; onChoose(): void }) {
  const { site } = useDesk();
  const names = useNames();
  const { data: size } = useQuery(sizeQuery(site.id, segment.rule as Rule));
  const share = size && size.of > 0 ? (size.visitors / size.of) * 100 : 0;
  return (
    <tr className={`border-b border-hair align-top ${isChosen ? 'bg-selectwash' : 'hover:bg-sheet2'}`}>
      <td className="max-w-[440px] px-4 py-2">
        <button type="button" onClick={onChoose} aria-expanded={isChosen} className="text-start font-semibold hover:underline">
          {segment.name}
        </button>
        <div className="text-[12px] leading-4 text-soft">{ruleWords(segment.rule, names)}</div>
      </td>
      <td className="px-4 py-2 whitespace-nowrap">
        {size ? (
          <>
            <b>{size.visitors.toLocaleString('en-GB')}</b> <span className="text-soft">{share.toFixed(1)} %</span>
            <span className="mt-1 block h-[3px] w-28 bg-hair">
              <span className="block h-full bg-who-deep" style={{ width: `${share}%` }} />
            </span>
          </>
        ) : (
          <span className="text-soft">counting</span>
        )}
      </td>
      <td className="px-4 py-2 max-md:hidden">
        {segment.usedBy.length === 0 ? <span className="text-soft">nothing</span> : segment.usedBy.map((u) => u.name).join(', ')}
      </td>
      <td className="px-4 py-2 whitespace-nowrap max-md:hidden">
        <div>{segment.changedBy}</div>
        <div className="text-[12px] leading-4 text-soft">
          {day(segment.changedAt)}, {clock(segment.changedAt)}
        </div>
      </td>
    </tr>
  );
}

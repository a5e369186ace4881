import { useQuery } from '@tanstack/react-query';
import { Button } from '../kit/Button';
import { languageName } from '../kit/languages';
import { Failed, Waiting } from '../kit/Notice';
import { ago } from '../kit/time';
import { useNow } from '../kit/useNow';
import { useDesk } from '../session/desk';
import { visitorsQuery } from './api';
import { didWords } from './VisitorLine';

/** Columns that stay where there is little room. */
const NARROW = new Set(['Visitor', 'Last here', 'Visit', 'From']);

/** Recorded visitors of the last 30 days, the latest first. */
export function VisitorsView({
  segment,
  page,
  skip,
  chosen,
  onChoose,
  onSkip,
}: {
  segment: string | undefined;
  page: string | undefined;
  skip: number;
  chosen: string | undefined;
  onChoose(id: string): void;
  onSkip(skip: number): void;
}) {
  const { site } = useDesk();
  const now = useNow(30_000);
  const list = useQuery(visitorsQuery(site.id, segment, page, skip));
  if (list.isError) return <Failed error={list.error} again={() => void list.refetch()} />;
  if (!list.data) return <Waiting>Counting recorded visitors</Waiting>;
  const { visitors, total, of } = list.data;
  if (visitors.length === 0)
    return (
      <p className="max-w-[560px] p-6 text-soft">
        {of === 0
          ? 'No visitor was recorded in the last 30 days. They are from the moment the snippet is on the site, whether or not anything is live.'
          : 'No recorded visitor fits. Choose another segment or page above.'}
      </p>
    );
  return (
    <>
      <table className={`w-full border-collapse bg-sheet ${list.isPlaceholderData ? 'opacity-70' : ''}`}>
        <thead className="sticky top-0 z-10 bg-paper">
          <tr className="border-b border-ink text-start">
            {['Visitor', 'Last here', 'Visit', 'Came in by', 'From', 'Reads', 'Did'].map((words) => (
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
          {visitors.map((v) => (
            <tr key={v.id} className={`h-9 border-b border-hair ${v.id === chosen ? 'bg-selectwash' : 'hover:bg-sheet2'}`}>
              <td className="px-4 py-1">
                <button
                  type="button"
                  onClick={() => onChoose(v.id)}
                  aria-expanded={v.id === chosen}
                  className="font-mono text-[12.5px] font-semibold hover:underline"
                >
                  {v.short}
                </button>{' '}
                <span className="text-soft">{v.device}</span>
                {v.isKnown && <span className="ms-1 text-good">signed in</span>}
              </td>
              <td className="px-4 py-1 whitespace-nowrap">{ago(v.lastAt, now)}</td>
              <td className="px-4 py-1 whitespace-nowrap">
                {v.visit}, {v.pages} {v.pages === 1 ? 'page' : 'pages'}
              </td>
              <td className="max-w-[200px] truncate px-4 py-1 max-md:hidden font-mono text-[12.5px]">{v.entry}</td>
              <td className="px-4 py-1">{v.place || <span className="text-soft">unknown</span>}</td>
              <td className="px-4 py-1 max-md:hidden">{v.language ? languageName(v.language) : ''}</td>
              <td className="px-4 py-1 max-md:hidden">{didWords(v.did)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="flex items-center gap-3 px-4 py-2 text-soft">
        {(skip + 1).toLocaleString('en-GB')} to {(skip + visitors.length).toLocaleString('en-GB')} of {total.toLocaleString('en-GB')}
        <Button disabled={skip === 0} onClick={() => onSkip(Math.max(0, skip - 50))}>
          Later ones
        </Button>
        <Button disabled={skip + visitors.length >= total} onClick={() => onSkip(skip + 50)}>
          Earlier ones
        </Button>
      </p>
    </>
  );
}

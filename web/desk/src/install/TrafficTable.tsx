import { useQuery } from '@tanstack/react-query';
import type { Schema } from '../data/api';
import { plural } from '../kit/plural';
import { day } from '../kit/time';
import { useDesk } from '../session/desk';
import { trafficQuery } from './api';

type Group = Schema<'GroupTrafficView'>;

const number = (n: number) => n.toLocaleString('en-GB');

/** What has been recorded since the snippet was first heard: visitors and page views by page group, and who is here now. */
export function TrafficTable() {
  const { site } = useDesk();
  const traffic = useQuery(trafficQuery(site.id));
  if (!traffic.data) return null;
  const { since, groups, site: whole, testViews } = traffic.data;
  return (
    <section className="grid max-w-[720px] gap-2">
      <h2 className="text-[17px] leading-6">Recorded so far</h2>
      <p className="text-soft">
        {since
          ? `Page views since ${day(since)}, from the moment the snippet was first heard (30 days at most). Distinct visitors, so reloading raises nothing; robots and members are left out.`
          : 'Page views are recorded from the moment the snippet is first heard, before any callout exists.'}
        {testViews > 0 && ` Besides, ${number(testViews)} on test hosts.`}
      </p>
      {since && (
        <table className="w-full">
          <thead>
            <tr className="border-b border-ink text-[12px] text-soft">
              {['Pages', 'Here now', 'Last hour', '24 hours', '7 days', '30 days'].map((h, i) => (
                <th key={h} scope="col" className={`py-1 font-medium ${i === 0 ? 'text-start' : 'text-end'}`}>
                  {h}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {[whole, ...groups].map((g, place) => (
              <Row key={g.name} group={g} strong={place === 0} />
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

function Row({ group, strong }: { group: Group; strong: boolean }) {
  return (
    <tr className={`border-b border-hair ${strong ? 'font-semibold' : ''}`}>
      <th scope="row" className="py-1.5 text-start font-[inherit]">
        {group.name} <span className="font-mono text-[12px] font-normal text-soft">{group.includes.join(' ')}</span>
      </th>
      <td className="text-end">{number(group.now)}</td>
      {(['hour', 'day', 'week', 'month'] as const).map((span) => {
        const f = group[span];
        return (
          <td key={span} className="text-end">
            {number(f.visitors)}
            <span className="block text-[12px] leading-4 font-normal text-soft">{plural(f.views, 'view')}</span>
          </td>
        );
      })}
    </tr>
  );
}

import { useQuery } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { askedQuery } from '../leads/api';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';

const percent = (share: number) => `${(share * 100).toFixed(share < 0.1 ? 1 : 0)} %`;

/** What became of those whom a prompt asked, and what is kept with every yes. */
export function AskedPane({ calloutId, isLive, confirms }: { calloutId: string; isLive: boolean; confirms: boolean }) {
  const { site, member } = useDesk();
  const { data } = useQuery({ ...askedQuery(site.id, calloutId), enabled: isLive });
  const boxes: readonly (readonly [number, string, number])[] | undefined = data && [
    [data.asked, 'asked', 1],
    [data.gave, data.rate ? `gave, ${percent(data.rate.share)} of them` : 'gave', data.asked > 0 ? data.gave / data.asked : 0],
    ...(confirms ? [[data.confirmed, 'confirmed', data.asked > 0 ? data.confirmed / data.asked : 0] as const] : []),
  ];
  return (
    <section aria-label="What became of those asked" className="grid flex-none gap-2">
      <h2 className="border-b border-ink pb-1 text-[15px] leading-5">
        What became of those asked{' '}
        <span className="font-sans text-[12px] font-normal text-soft">
          {data ? `in the last ${data.days} days` : isLive ? '' : 'once it is live'}
        </span>
      </h2>
      {boxes && data && (
        <dl className="grid grid-flow-col border border-ink bg-sheet">
          {boxes.map(([number, words, share]) => (
            <div key={words} className="relative border-e border-hair px-3 pt-1.5 pb-2.5 last:border-e-0">
              <dd className="text-[17px] font-semibold">{number.toLocaleString('en-GB')}</dd>
              <dt className="text-[12px] text-soft">{words}</dt>
              <span
                className="absolute start-0 bottom-0 h-[3px] bg-ink"
                style={{ width: `${Math.min(1, share) * 100}%` }}
                aria-hidden="true"
              />
            </div>
          ))}
        </dl>
      )}
      {data?.rate && (
        <p className="text-[12px] text-soft">
          The true share lies between {percent(data.rate.low)} and {percent(data.rate.high)}, 19 times out of 20.{' '}
          {mayAct(member, 'answer') && (
            <Link to="/leads" search={{ callout: calloutId }} className="text-cobalt hover:underline">
              Who said yes
            </Link>
          )}
        </p>
      )}
      <h3 className="text-[13px] leading-5">
        Kept with every yes{' '}
        <span className="font-sans text-[12px] font-normal text-soft">word for word, so that it can be shown years on</span>
      </h3>
      <dl className="grid grid-cols-[104px_minmax(0,1fr)] text-[13px]">
        {[
          ['Agreed to', 'the promise as they read it, its number and its language'],
          ['Where, when', 'the page and the second, by which box or button; never the network address'],
          ...(confirms ? [['Confirmed', 'by the button in the mail, to the second']] : []),
          ['Taken back', 'by the link in each mail, or by your team'],
        ].map(([what, how]) => (
          <div key={what} className="contents">
            <dt className="border-t border-hair py-1 text-soft">{what}</dt>
            <dd className="border-t border-hair py-1">{how}</dd>
          </div>
        ))}
      </dl>
    </section>
  );
}

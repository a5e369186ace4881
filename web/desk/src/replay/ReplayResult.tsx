import type { ReactNode } from 'react';
import { pageClock } from '../kit/time';
import { placeOf, TICKS } from '../runsheet/axis';
import type { ReplayFigures } from './api';
import { counted, often, share, verdict } from './model';

const STEP_MS = 5_000;

/** What a replay has counted: a verdict, and the figures that it stands on. */
export function ReplayResult({ figures, isDone }: { figures: ReplayFigures; isDone: boolean }) {
  const { visitorsReached, onItsPages, starts, notShown, others, withoutEnd, pageViews } = figures;
  return (
    <div className="grid gap-3 pt-1">
      <p className="font-display text-[17px] leading-6" role={isDone ? 'status' : undefined}>
        {verdict(figures)}
      </p>
      {visitorsReached > 0 && (
        <div className="grid grid-cols-[minmax(0,1fr)_200px] gap-4 max-lg:grid-cols-1">
          <FirstTimes figures={figures} />
          <Bars
            title="How often they would have met it"
            rows={often(figures.showingsPerVisitor.map(Number)).map((o) => ({
              name: o.times,
              value: o.visitors,
              said: share(o.visitors, Number(visitorsReached)),
            }))}
          />
        </div>
      )}
      <div className="grid grid-cols-2 gap-4 max-lg:grid-cols-1">
        <Table title={`Not shown on ${counted(Number(onItsPages) - Number(starts), 'of its page view', 'of its page views')}, because`}>
          {notShown.slice(0, 6).map((reason) => (
            <Row key={`${reason.kind}:${reason.other}`} value={Number(reason.pageViews)}>
              {reason.because}
              {reason.other && <b className="font-semibold"> ({reason.other})</b>}
            </Row>
          ))}
          {notShown.length === 0 && <Row>nothing: it came on wherever it could</Row>}
        </Table>
        <Table title="What it would have changed for others, in page views">
          {others.slice(0, 6).map((other) => (
            <Row key={other.id} value={Number(other.gained) - Number(other.lost)} signed>
              <b className="font-semibold">{other.name}</b> displaced {Number(other.lost).toLocaleString('en-GB')}
              {other.gained > 0 && <>, shown instead elsewhere {Number(other.gained).toLocaleString('en-GB')}</>}
            </Row>
          ))}
          {others.length === 0 && <Row>nothing</Row>}
        </Table>
      </div>
      <Places figures={figures} />
      <details>
        <summary className="cursor-pointer text-[12px] text-cobalt">What this assumes</summary>
        <ul className="list-disc ps-4 text-[12px] leading-[18px] text-soft">
          <li>Claims as they stood then, from the events as they are today; house rules and all other callouts as they are today.</li>
          {figures.caveats.map((caveat) => (
            <li key={caveat}>{caveat}</li>
          ))}
          {withoutEnd > 0 && (
            <li>
              The end of {counted(Number(withoutEnd), 'page view')} of {Number(pageViews).toLocaleString('en-GB')} is not recorded; they
              count as left at once.
            </li>
          )}
        </ul>
      </details>
    </div>
  );
}

function FirstTimes({ figures }: { figures: ReplayFigures }) {
  const steps = figures.firstPer5s.map(Number);
  const most = Math.max(1, ...steps);
  return (
    <figure className="relative">
      <figcaption className="text-[12px] text-soft">Seconds on the page when they would have met it first</figcaption>
      <div className="relative h-[58px] border-b border-ink" aria-hidden="true">
        {steps.map((visitors, step) => {
          const from = placeOf(step * STEP_MS);
          const width = step * STEP_MS >= 120_000 ? 1.5 : placeOf((step + 1) * STEP_MS) - from;
          return (
            <span
              key={from}
              title={`${pageClock(step * STEP_MS)} on: ${counted(visitors, 'visitor')}`}
              className="absolute bottom-0 border border-ink bg-marigold"
              style={{
                insetInlineStart: `${Math.min(from, 98.5)}%`,
                width: `${width}%`,
                height: `${(100 * visitors) / most}%`,
                display: visitors > 0 ? undefined : 'none',
              }}
            />
          );
        })}
      </div>
      <div className="relative h-4" aria-hidden="true">
        {TICKS.named.slice(0, -1).map((ms) => (
          <span key={ms} className="absolute text-[12px] leading-4 text-soft" style={{ insetInlineStart: `${placeOf(ms)}%` }}>
            {pageClock(ms)}
          </span>
        ))}
      </div>
      <table className="sr-only">
        <caption>Visitors by the second at which they would have met it first</caption>
        <tbody>
          {steps.map(
            (visitors, step) =>
              visitors > 0 && (
                <tr key={placeOf(step * STEP_MS)}>
                  <th scope="row">from {pageClock(step * STEP_MS)}</th>
                  <td>{visitors}</td>
                </tr>
              ),
          )}
        </tbody>
      </table>
    </figure>
  );
}

function Bars({ title, rows }: { title: string; rows: { name: string; value: number; said: string }[] }) {
  const most = Math.max(1, ...rows.map((r) => r.value));
  return (
    <table className="w-full self-start">
      <caption className="text-start text-[12px] text-soft">{title}</caption>
      <tbody>
        {rows.map((row) => (
          <tr key={row.name} className="h-[19px]">
            <th scope="row" className="w-[72px] text-start text-[12px] font-normal whitespace-nowrap">
              {row.name}
            </th>
            <td>
              <span className="block h-2.5 bg-ink" style={{ width: `${(100 * row.value) / most}%` }} aria-hidden="true" />
            </td>
            <td className="w-[92px] text-end text-[12px] tabular-nums">
              {row.value.toLocaleString('en-GB')} <span className="text-soft">{row.said}</span>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Places({ figures }: { figures: ReplayFigures }) {
  const groups = figures.groups.filter((g) => g.all.pageViews > 0);
  if (groups.length === 0) return null;
  const most = Math.max(1, ...groups.flatMap((g) => g.byDay.map((d) => Number(d.starts))));
  return (
    <table className="w-full">
      <caption className="text-start text-[12px] text-soft">By page group and day</caption>
      <thead>
        <tr className="text-[12px] text-soft">
          <th className="text-start font-normal">pages</th>
          <th className="text-end font-normal">views</th>
          <th className="text-end font-normal">shown on</th>
          <th className="ps-4 text-start font-normal">day by day</th>
        </tr>
      </thead>
      <tbody>
        {groups.map((group) => (
          <tr key={group.id} className="h-7 border-t border-hair">
            <th scope="row" className="text-start font-normal">
              {group.name}
            </th>
            <td className="w-20 text-end tabular-nums">{Number(group.all.pageViews).toLocaleString('en-GB')}</td>
            <td className="w-24 text-end font-semibold tabular-nums">{Number(group.all.starts).toLocaleString('en-GB')}</td>
            <td className="w-[45%] ps-4">
              <ol className="flex h-5 items-end gap-px">
                {group.byDay.map((cell, i) => (
                  <li
                    key={figures.days[i]?.day}
                    className="relative min-w-[2px] flex-1 bg-ink"
                    style={{
                      height: `${Math.max(cell.starts > 0 ? 8 : 3, (100 * Number(cell.starts)) / most)}%`,
                      opacity: cell.starts > 0 ? 1 : 0.25,
                    }}
                    title={`${figures.days[i]?.day}: ${counted(Number(cell.starts), 'showing')} on ${counted(Number(cell.pageViews), 'view')}`}
                  >
                    <span className="sr-only">
                      {figures.days[i]?.day}: {Number(cell.starts)}
                    </span>
                  </li>
                ))}
              </ol>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Table({ title, children }: { title: string; children: ReactNode }) {
  return (
    <table className="w-full self-start">
      <caption className="text-start text-[12px] text-soft">{title}</caption>
      <tbody>{children}</tbody>
    </table>
  );
}

function Row({ value, signed = false, children }: { value?: number; signed?: boolean; children: ReactNode }) {
  return (
    <tr className="border-t border-hair align-top">
      <td className="py-0.5">{children}</td>
      <td className="w-16 py-0.5 text-end font-semibold tabular-nums">
        {value !== undefined && (signed && value > 0 ? '+' : '') + value.toLocaleString('en-GB').replace('-', '−')}
      </td>
    </tr>
  );
}

import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef } from 'react';
import { Said } from '../kit/Said';
import { clockSeconds, day } from '../kit/time';
import type { LedgerEvent } from './api';
import { EventSign, unusualWord } from './EventSign';
import type { Selection } from './useSelection';

const COLUMNS = 'grid grid-cols-[26px_84px_112px_minmax(0,1fr)_176px_76px] max-md:grid-cols-[26px_72px_minmax(0,1fr)]';
/** Beside a wide sheet what was masked gives its room to what visitors read. */
const NARROW = 'grid grid-cols-[26px_84px_112px_minmax(0,1fr)_0_0] max-md:grid-cols-[26px_72px_minmax(0,1fr)]';
const ROW_PX = 52;

/** The events, as many as there are: only what is in view is drawn. Arrow keys walk, space chooses. */
export function Rows({
  rows,
  chosen,
  isNarrow,
  selection,
  onChoose,
  onEnd,
}: {
  rows: LedgerEvent[];
  chosen: string | undefined;
  isNarrow: boolean;
  selection: Selection | undefined;
  onChoose(id: string): void;
  onEnd(): void;
}) {
  const box = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({ count: rows.length, getScrollElement: () => box.current, estimateSize: () => ROW_PX, overscan: 8 });
  const shown = virtual.getVirtualItems();
  const last = shown[shown.length - 1]?.index ?? 0;
  // biome-ignore lint/correctness/useExhaustiveDependencies: asks again whenever the end comes near, not when the asking itself changes
  useEffect(() => {
    if (last >= rows.length - 10) onEnd();
  }, [last, rows.length]);

  function walk(event: React.KeyboardEvent) {
    const own = (event.target as HTMLElement).closest<HTMLElement>('[data-row]')?.dataset.row;
    const at = rows.findIndex((r) => r.id === own);
    if (event.key === ' ' && selection && at >= 0 && (event.target as HTMLElement).dataset.event) {
      event.preventDefault();
      selection.toggle(rows[at]?.id ?? '');
      return;
    }
    const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    if (!step) return;
    event.preventDefault();
    const next = Math.max(0, Math.min(rows.length - 1, at + step));
    virtual.scrollToIndex(next);
    requestAnimationFrame(() => box.current?.querySelector<HTMLElement>(`[data-event="${rows[next]?.id}"]`)?.focus());
  }

  const allShown = selection && rows.length > 0 && rows.every((r) => selection.ids.has(r.id));
  return (
    <div role="table" aria-label="Events" aria-rowcount={rows.length + 1} className="flex min-h-0 flex-1 flex-col">
      <div
        role="row"
        aria-rowindex={1}
        className={`${isNarrow ? NARROW : COLUMNS} flex-none items-center border-b border-ink bg-paper px-4 py-1.5 font-semibold text-soft`}
      >
        <span role="columnheader" className="grid">
          {selection ? (
            <input
              type="checkbox"
              aria-label="Choose all that are listed"
              checked={!!allShown}
              onChange={() => (allShown ? selection.clear() : selection.chooseShown(rows.map((r) => r.id)))}
            />
          ) : (
            <span className="sr-only">Choose</span>
          )}
        </span>
        <span role="columnheader">When</span>
        <span role="columnheader" className="max-md:hidden">
          State
        </span>
        <span role="columnheader">As visitors will see it</span>
        <span role="columnheader" className="overflow-hidden whitespace-nowrap max-md:hidden">
          What arrived, masked
        </span>
        <span role="columnheader" className="overflow-hidden text-end max-md:hidden">
          Value
        </span>
      </div>
      <div ref={box} role="rowgroup" className="min-h-0 flex-1 overflow-auto" tabIndex={0} onKeyDown={walk}>
        <div role="presentation" className="relative" style={{ height: virtual.getTotalSize() }}>
          {shown.map((item) => {
            const event = rows[item.index];
            return (
              event && (
                <Row
                  key={event.id}
                  event={event}
                  place={item.index}
                  top={item.start}
                  isChosen={event.id === chosen}
                  isNarrow={isNarrow}
                  selection={selection}
                  onChoose={() => onChoose(event.id)}
                />
              )
            );
          })}
        </div>
      </div>
    </div>
  );
}

function Row({
  event,
  place,
  top,
  isChosen,
  isNarrow,
  selection,
  onChoose,
}: {
  event: LedgerEvent;
  place: number;
  top: number;
  isChosen: boolean;
  isNarrow: boolean;
  selection: Selection | undefined;
  onChoose(): void;
}) {
  const masked = [event.maskedName, event.maskedEmail, event.maskedPhone].filter(Boolean).join(', ');
  const unusual = unusualWord(event);
  const isSelected = selection?.ids.has(event.id) ?? false;
  const ground = isChosen
    ? 'border-y-2 border-cobalt bg-selectwash'
    : isSelected
      ? 'border-hair bg-selectwash'
      : event.state === 'held'
        ? 'border-hair bg-goldwash'
        : 'border-hair hover:bg-sheet2';
  return (
    <div
      role="row"
      data-row={event.id}
      // The head is the first row.
      aria-rowindex={place + 2}
      aria-selected={isSelected}
      className={`${isNarrow ? NARROW : COLUMNS} absolute inset-x-0 h-[52px] items-start border-b px-4 pt-1.5 leading-[18px] ${ground}`}
      style={{ transform: `translateY(${top}px)` }}
    >
      <span role="cell" className="relative z-10 grid h-10 content-center">
        {selection && (
          <input
            type="checkbox"
            aria-label={`Choose the event of ${clockSeconds(event.at)}`}
            checked={isSelected}
            onChange={() => selection.toggle(event.id)}
          />
        )}
      </span>
      <span role="cell" className="text-soft">
        {clockSeconds(event.at)}
        <span className="block text-[12px]">{day(event.at)}</span>
      </span>
      <span role="cell" className="max-md:hidden">
        <EventSign event={event} />
      </span>
      <span role="cell" className="min-w-0 pe-3">
        <button
          type="button"
          data-event={event.id}
          onClick={onChoose}
          className={`block w-full overflow-hidden text-start text-ellipsis whitespace-nowrap after:absolute after:inset-0 ${event.state === 'hidden' ? 'line-through' : ''} ${event.state === 'usable' || event.state === 'hidden' ? '' : 'text-soft'}`}
        >
          <Said spans={event.spans} />
        </button>
        <span className="block overflow-hidden text-[12px] text-ellipsis whitespace-nowrap text-soft">
          {unusual && <span className="me-2 font-semibold text-ink md:hidden">{unusual}</span>}
          {event.meta}
          {event.path && <span className="ms-2 font-mono">{event.path}</span>}
        </span>
      </span>
      <span role="cell" className="overflow-hidden text-[12px] text-ellipsis whitespace-nowrap text-soft max-md:hidden">
        {masked || 'nothing personal'}
        <span className="block overflow-hidden text-ellipsis">{event.source}</span>
      </span>
      <span role="cell" className="overflow-hidden text-end max-md:hidden">
        {event.amount}
      </span>
    </div>
  );
}

import { useQuery } from '@tanstack/react-query';
import { ChevronDown } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import type { Brief } from '../brief/types';
import { KIND_ORDER, KINDS } from '../brief/words';
import { ShapeSign } from '../kit/ShapeSign';
import { useDesk } from '../session/desk';
import { adviceQuery, readyQuery } from './api';

/** Begins a callout of a kind. The kinds stand in the order in which they suit what this site has recorded, each with the reason. */
export function NewCallout({
  disabled,
  onStart,
}: {
  disabled: boolean;
  /** Begins with a kind, or with a ready brief by its key. */
  onStart(from: { kind: Brief['kind'] } | { ready: string }): void;
}) {
  const { site } = useDesk();
  const { data: advice } = useQuery(adviceQuery(site.id));
  const { data: ready } = useQuery(readyQuery(site.id));
  const ranked = advice?.map((a) => a.kind) ?? KIND_ORDER;
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger
        disabled={disabled}
        className="inline-flex min-h-8 items-center gap-2 rounded border border-ink bg-ink px-3 font-semibold text-white max-sm:min-h-11 hover:bg-[#2b3040] disabled:opacity-60"
      >
        New callout <ChevronDown className="h-4 w-4" aria-hidden="true" />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={6}
          className="z-50 max-h-[80vh] w-[440px] max-w-[calc(100vw-24px)] overflow-auto rounded border border-ink bg-sheet shadow-lg"
        >
          <DropdownMenu.Label className="border-b border-ink px-3 py-2 text-[12px] text-soft">
            What suits this site best stands first
          </DropdownMenu.Label>
          {ranked.map((kind) => {
            const said = advice?.find((a) => a.kind === kind);
            return (
              <DropdownMenu.Item
                key={kind}
                onSelect={() => onStart({ kind })}
                className="grid cursor-pointer grid-cols-[92px_minmax(0,1fr)] gap-2 border-b border-hair px-3 py-2 outline-none data-[highlighted]:bg-selectwash"
              >
                <span className={`font-display text-[16px] font-semibold ${said && said.score < 20 ? 'text-soft' : ''}`}>
                  {KINDS[kind].name}
                </span>
                <span>
                  {KINDS[kind].tells}
                  {said && <span className="block text-[12px] leading-4 text-soft">{said.because}</span>}
                </span>
              </DropdownMenu.Item>
            );
          })}
          {ready && (
            <DropdownMenu.Label className="border-b border-ink bg-paper px-3 py-2 text-[12px] text-soft">
              Ready briefs: a kind in a shape and at a moment that suit it
            </DropdownMenu.Label>
          )}
          {ready?.map((r) => (
            <DropdownMenu.Item
              key={r.key}
              onSelect={() => onStart({ ready: r.key })}
              className="grid cursor-pointer grid-cols-[28px_minmax(0,1fr)] gap-2 border-b border-hair px-3 py-2 outline-none last:border-0 data-[highlighted]:bg-selectwash"
            >
              <ShapeSign shape={r.shape} className="mt-1" />
              <span>
                <span className="font-semibold">{r.name}</span>
                <span className="block text-[12px] leading-4 text-soft">
                  {r.does} {r.lacks ? 'No source of yours brings such events yet.' : r.source && `From ${r.source}.`}
                </span>
              </span>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

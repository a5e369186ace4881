import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import type { Schema } from '../data/api';
import { Button } from '../kit/Button';
import { Refused } from '../kit/Panel';
import { ago } from '../kit/time';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { switchAir } from './api';

/** The lamp that says whether the site is on air, and behind it the one switch that silences everything at once. */
export function AirSwitch({ siteId, strip }: { siteId: string; strip: Schema<'StripView'> }) {
  const { site, member } = useDesk();
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const change = useMutation({
    mutationFn: (offAir: boolean) => switchAir(siteId, offAir),
    onSuccess: () => {
      setOpen(false);
      return queries.invalidateQueries({ queryKey: ['strip'] });
    },
  });
  const words = strip.offAir ? 'Off air' : 'On air';
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger
        className={`flex h-full items-center gap-2 px-1 font-display text-[14px] font-semibold ${strip.offAir ? 'text-[#ff9d8c]' : 'text-marigold'} hover:underline`}
      >
        <span
          className={`h-3.5 w-3.5 rounded-full border-2 ${strip.offAir ? 'border-[#ff9d8c]' : `border-marigold ${strip.heardAt ? 'bg-marigold shadow-[inset_0_0_0_2px_#15181e]' : ''}`}`}
          aria-hidden="true"
        />
        {words}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          side="top"
          sideOffset={8}
          aria-label="The whole site on or off air"
          className="z-50 grid w-[340px] max-w-[calc(100vw-24px)] gap-3 rounded border border-ink bg-sheet p-4 text-[13px] leading-5 text-ink shadow-lg"
        >
          <p>
            {strip.offAir ? (
              <>
                <b>{site.name} is off air.</b> Visitors see nothing of it, whatever is live. Callouts keep their state.
              </>
            ) : (
              <>
                <b>{site.name} is on air.</b> Taken off air, nothing at all is shown on any of its pages from the next page view on.
                Callouts keep their state, and nobody has to remember which were live.
              </>
            )}
          </p>
          {strip.switchedBy && strip.switchedAt && (
            <p className="text-soft">
              Last switched {strip.offAir ? 'off' : 'on'} by {strip.switchedBy}, {ago(strip.switchedAt, Date.now())}.
            </p>
          )}
          {mayAct(member, 'publish') ? (
            <p>
              <Button kind={strip.offAir ? 'primary' : 'danger'} disabled={change.isPending} onClick={() => change.mutate(!strip.offAir)}>
                {strip.offAir ? 'Put it on air again' : 'Take the whole site off air'}
              </Button>
            </p>
          ) : (
            <p className="text-soft">A publisher can switch it.</p>
          )}
          <Refused error={change.error} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

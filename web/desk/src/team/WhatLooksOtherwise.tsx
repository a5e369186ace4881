import { useMutation, useQueryClient } from '@tanstack/react-query';
import { kitQuery } from '../catalogue/kit';
import type { Schema } from '../data/api';
import { Button } from '../kit/Button';
import { Refused } from '../kit/Panel';
import { plural } from '../kit/plural';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { takeOverKit } from './api';

/** What does not look like the kit, and can take it over. */
export function WhatLooksOtherwise({ others }: { others: readonly Schema<'UndressedView'>[] }) {
  const { site, member } = useDesk();
  const queries = useQueryClient();
  const over = useMutation({
    mutationFn: (ids: string[]) => takeOverKit(site.id, ids),
    onSuccess: (view) => {
      queries.setQueryData(kitQuery(site.id).queryKey, view);
      for (const key of ['callouts', 'callout', 'launchers', 'launcher']) void queries.invalidateQueries({ queryKey: [key] });
    },
  });
  const mayDraft = mayAct(member, 'draft');
  return (
    <div className="grid gap-1">
      <h2 className="text-[15px] leading-6">What looks otherwise</h2>
      {others.length === 0 ? (
        <p className="text-soft">Nothing: all of it looks so.</p>
      ) : (
        <>
          <p className="text-soft">
            {plural(others.length, 'draft')} would change by taking the kit over. What is live stays until it is published.
          </p>
          <ul>
            {others.map((other) => (
              <li key={other.id} className="flex min-h-9 items-center gap-3 border-t border-hair">
                <span className="min-w-0 flex-1">
                  {other.name}{' '}
                  <span className="text-soft">
                    {other.kind}
                    {other.isLive && ', live'}
                  </span>
                </span>
                {mayDraft && (
                  <Button
                    kind="link"
                    aria-label={`Let ${other.name} take the kit over`}
                    disabled={over.isPending}
                    onClick={() => over.mutate([other.id])}
                  >
                    Take it over
                  </Button>
                )}
              </li>
            ))}
          </ul>
          {mayDraft && others.length > 1 && (
            <p>
              <Button disabled={over.isPending} onClick={() => over.mutate(others.map((o) => o.id))}>
                All of them
              </Button>
            </p>
          )}
        </>
      )}
      <Refused error={over.error} />
    </div>
  );
}

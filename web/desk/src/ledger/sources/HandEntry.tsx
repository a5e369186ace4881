import { useMutation } from '@tanstack/react-query';
import type { FormEvent } from 'react';
import type { Source } from '../../brief/types';
import { Refusal } from '../../data/api';
import { Button } from '../../kit/Button';
import { TextField } from '../../kit/Field';
import { Refused } from '../../kit/Panel';
import { useDesk } from '../../session/desk';
import { enterByHand } from '../api';

/** An endorsement with its permission, a total as of a date, or a review. */
export function HandEntry({ source, onEntered }: { source: Source; onEntered(): void }) {
  const { site } = useDesk();
  const enter = useMutation({
    mutationFn: (form: HTMLFormElement) => {
      const typed = new FormData(form);
      const text = (name: string) => String(typed.get(name) ?? '').trim();
      return enterByHand(site.id, source.id, {
        who: text('who'),
        role: text('role'),
        words: text('words'),
        picture: text('picture'),
        hasPermission: typed.get('hasPermission') === 'on',
        total: text('total'),
        of: text('of'),
        stars: text('stars'),
        product: text('product'),
        ...(text('asOf') ? { asOf: new Date(`${text('asOf')}T12:00`).toISOString() } : {}),
      });
    },
    onSuccess: (_, form) => {
      form.reset();
      onEntered();
    },
  });
  const wrong = enter.error instanceof Refusal ? enter.error : undefined;
  const error = (field: string) => (wrong?.field === field ? wrong.message : undefined);
  function submit(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    enter.mutate(event.currentTarget);
  }
  return (
    <form onSubmit={submit} className="grid gap-3" noValidate>
      {source.eventKind === 'total' ? (
        <div className="grid grid-cols-2 gap-3">
          <TextField label="Total" name="total" inputMode="numeric" error={error('total')} />
          <TextField label="It counts" name="of" placeholder="followers" error={error('of')} />
        </div>
      ) : (
        <>
          <div className="grid grid-cols-2 gap-3">
            <TextField label={source.eventKind === 'endorsement' ? 'Who, in full' : 'Who'} name="who" error={error('who')} />
            {source.eventKind === 'endorsement' ? (
              <TextField label="Role" name="role" placeholder="ceramics curator" />
            ) : (
              <TextField label="Stars" name="stars" inputMode="decimal" error={error('stars')} />
            )}
          </div>
          <label className="grid gap-1 font-semibold">
            Words
            <textarea name="words" rows={3} className="font-normal" aria-invalid={!!error('words')} />
            {error('words') && <span className="text-[12px] leading-4 font-normal text-bad">{error('words')}</span>}
          </label>
          {source.eventKind === 'review' && <TextField label="About which product" name="product" />}
          <TextField label="Picture" name="picture" placeholder="https://" hint="An address; may stay empty." error={error('picture')} />
        </>
      )}
      <TextField label="As of" name="asOf" type="date" hint="Empty for now." error={error('asOf')} />
      {source.eventKind === 'endorsement' && (
        <label className="flex items-start gap-2">
          <input type="checkbox" name="hasPermission" className="mt-0.5" />
          <span>
            They allowed it to be shown with their name
            {error('hasPermission') && <span className="block text-[12px] leading-4 text-bad">{error('hasPermission')}</span>}
          </span>
        </label>
      )}
      <p className="flex items-center gap-2">
        <Button type="submit" disabled={enter.isPending}>
          Enter
        </Button>
        <span role="status" className="text-good">
          {enter.isSuccess && 'It is in the ledger.'}
        </span>
      </p>
      {!wrong?.field && <Refused error={enter.error} />}
    </form>
  );
}

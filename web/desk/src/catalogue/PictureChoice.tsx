import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type ChangeEvent, type ClipboardEvent, useState } from 'react';
import { Button } from '../kit/Button';
import { Refused } from '../kit/Panel';
import { useDesk } from '../session/desk';
import { fetchPicture, picturesQuery, removePicture, uploadPicture } from './pictures';

/** Finds a picture: by words among the site's own and the supplied ones, by upload, by pasting an address or a picture itself. */
export function PictureChoice({ address, onChoose }: { address: string; onChoose(address: string): void }) {
  const { site } = useDesk();
  const queries = useQueryClient();
  const [words, setWords] = useState('');
  const isAddress = /^https?:\/\//i.test(words.trim());
  const list = useQuery(picturesQuery(site.id, isAddress ? '' : words.trim()));
  const keep = useMutation({
    mutationFn: (from: File | string) => (typeof from === 'string' ? fetchPicture(site.id, from) : uploadPicture(site.id, from)),
    onSuccess: async (kept) => {
      await queries.invalidateQueries({ queryKey: ['pictures'] });
      setWords('');
      onChoose(kept.address);
    },
  });
  const remove = useMutation({
    mutationFn: (id: string) => removePicture(site.id, id),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['pictures'] }),
  });
  const chosen = list.data?.find((p) => p.address === address);

  function upload(event: ChangeEvent<HTMLInputElement>) {
    const file = event.currentTarget.files?.[0];
    if (file) keep.mutate(file);
    event.currentTarget.value = '';
  }
  function paste(event: ClipboardEvent) {
    const file = [...event.clipboardData.files].find((f) => f.type.startsWith('image/'));
    if (!file) return;
    event.preventDefault();
    keep.mutate(file);
  }

  return (
    <div className="grid gap-2">
      <div className="flex flex-wrap items-center gap-2">
        <input
          type="search"
          aria-label="Find a picture, or paste an address"
          placeholder="Find one, or paste an address or a picture"
          value={words}
          onChange={(e) => setWords(e.currentTarget.value)}
          onPaste={paste}
          onKeyDown={(e) => {
            if (e.key === 'Enter' && isAddress) keep.mutate(words.trim());
          }}
          className="min-w-0 flex-1 placeholder:text-soft"
        />
        {isAddress ? (
          <Button disabled={keep.isPending} onClick={() => keep.mutate(words.trim())}>
            Fetch and keep it
          </Button>
        ) : (
          <label className="inline-flex min-h-8 items-center rounded border border-ink bg-sheet px-3 font-semibold has-focus-visible:outline-2 has-focus-visible:outline-cobalt hover:bg-sheet2">
            Upload
            <input
              type="file"
              accept="image/png,image/jpeg,image/webp,image/gif"
              className="sr-only"
              onChange={upload}
              disabled={keep.isPending}
            />
          </label>
        )}
      </div>
      <p role="status" className="text-[12px] leading-4 text-soft">
        {keep.isPending && 'Looking into it. '}
        {chosen
          ? `Chosen: ${chosen.name}, ${chosen.width} by ${chosen.height}${chosen.isMoving ? ', moving' : ''}.`
          : address
            ? `Chosen: ${address}, which is not kept with the site and could vanish.`
            : 'None is chosen yet.'}
      </p>
      <Refused error={keep.error ?? remove.error ?? list.error} />
      {list.data?.length === 0 && <p className="text-soft">No picture has such words. Try a shorter one, or upload yours.</p>}
      <ul className="grid max-h-[230px] grid-cols-[repeat(auto-fill,minmax(64px,1fr))] gap-1.5 overflow-auto p-0.5" aria-label="Pictures">
        {list.data?.map((p) => (
          <li key={p.address} className="group relative">
            <button
              type="button"
              title={p.name}
              aria-label={`${p.name}${p.isMoving ? ', moving' : ''}`}
              aria-pressed={p.address === address}
              onClick={() => onChoose(p.address)}
              className={`block aspect-square w-full overflow-hidden rounded border bg-sheet ${p.address === address ? 'border-cobalt outline-2 outline-cobalt' : 'border-hair hover:border-ink'}`}
            >
              <img src={p.address} alt="" loading="lazy" className="h-full w-full object-cover" />
            </button>
            {p.isMoving && (
              <span className="pointer-events-none absolute start-0.5 bottom-0.5 rounded-sm bg-ink px-1 text-[11px] leading-4 text-white">
                moves
              </span>
            )}
            {p.id && p.usedBy.length === 0 && (
              <button
                type="button"
                aria-label={`Remove ${p.name} from the site's pictures`}
                onClick={() => p.id && remove.mutate(p.id)}
                className="absolute end-0.5 top-0.5 hidden h-6 w-6 place-items-center rounded bg-sheet text-[14px] leading-none group-focus-within:grid group-hover:grid"
              >
                ×
              </button>
            )}
          </li>
        ))}
      </ul>
    </div>
  );
}

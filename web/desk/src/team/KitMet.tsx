import { useQuery } from '@tanstack/react-query';
import { Failed } from '../kit/Notice';
import { useDesk } from '../session/desk';
import { type BrandKit, kitTriedQuery } from './api';

const FACES: Record<BrandKit['typeface'], string | undefined> = {
  page: undefined,
  sans: 'system-ui, sans-serif',
  serif: 'ui-serif, Georgia, serif',
  mono: 'ui-monospace, monospace',
};

/** A kit as a page would have it, and the contrast of its colours in the pairs in which they are met. */
export function KitMet({ kit }: { kit: BrandKit }) {
  const { site } = useDesk();
  // What is not typed to its end yet, a tone without words, does not change how it is met.
  const tried = useQuery(kitTriedQuery(site.id, { ...kit, tones: [] }));
  if (tried.isError) return <Failed error={tried.error} again={() => void tried.refetch()} />;
  const pairs = tried.data?.pairs ?? [];
  const [onButton, onGround] = pairs;
  return (
    <div className="grid gap-2">
      <h2 className="text-[15px] leading-6">As it is met</h2>
      {onButton && onGround && (
        <div className={`flex rounded border border-hair bg-paper p-4 ${kit.onRight ? 'justify-end' : ''}`}>
          <div
            className="flex w-[280px] gap-3 border-s-4 p-3 text-[14px] shadow-md"
            style={{
              background: kit.ground,
              borderColor: kit.band,
              color: onGround.upper,
              borderRadius: kit.cornerPx,
              fontFamily: FACES[kit.typeface],
            }}
          >
            {kit.picture && <img src={kit.picture} alt="" className="h-11 w-11 rounded-md object-cover" />}
            <div>
              <strong>Somebody</strong> did something true
              <span className="mt-2 block w-fit rounded px-2 py-1 text-[13px]" style={{ background: kit.band, color: onButton.upper }}>
                A button
              </span>
            </div>
          </div>
        </div>
      )}
      <ul className="grid gap-1">
        {pairs.map((pair) => (
          <li key={pair.what} className="flex items-center gap-2">
            <span
              aria-hidden="true"
              className="grid h-6 w-9 place-items-center rounded border border-hair text-[12px] font-bold"
              style={{ background: pair.lower, color: pair.upper }}
            >
              Aa
            </span>
            {pair.what}
            <span className={`ms-auto ${pair.ratio < pair.least ? 'font-semibold text-warn' : 'text-soft'}`}>
              {pair.ratio.toFixed(1)} to 1{pair.ratio < pair.least && `, ${pair.least} is needed`}
            </span>
          </li>
        ))}
      </ul>
    </div>
  );
}

import { FacetTag } from '../kit/FacetTag';
import type { FacetDiff } from './revisionDiff';

/** One sentence of a brief as it was and as it is to be, word by word. */
export function Diff({ diff }: { diff: FacetDiff }) {
  return (
    <div className="mb-3">
      <FacetTag facet={diff.facet} />
      <p className="mt-1 font-display text-[15px] leading-[26px]">
        {diff.runs.map((run, i) =>
          run.is === 'same' ? (
            run.words
          ) : run.is === 'gone' ? (
            // biome-ignore lint/suspicious/noArrayIndexKey: only drawn, in a fixed order, and holds nothing of its own.
            <del key={`${i}:${run.words}`} className="bg-badwash px-0.5 text-bad">
              {run.words}
            </del>
          ) : (
            // biome-ignore lint/suspicious/noArrayIndexKey: only drawn, in a fixed order, and holds nothing of its own.
            <ins key={`${i}:${run.words}`} className="bg-who px-0.5 font-semibold text-who-deep no-underline">
              {run.words}
            </ins>
          ),
        )}
      </p>
    </div>
  );
}

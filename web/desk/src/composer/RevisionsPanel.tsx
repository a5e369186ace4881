import { useQuery } from '@tanstack/react-query';
import { Diff } from '../brief/Diff';
import { compareBriefs } from '../brief/revisionDiff';
import type { Brief, Callout } from '../brief/types';
import { useNames } from '../brief/useNames';
import { RevisionsPanel as Frame } from '../drafting/RevisionsPanel';
import { useDesk } from '../session/desk';
import { revisionsQuery } from './api';

/** What was live before, how it reads against the draft word by word, and the way back to it. */
export function RevisionsPanel({
  callout,
  draft,
  mayEdit,
  onRestore,
  onClose,
}: {
  callout: Callout;
  draft: Brief;
  mayEdit: boolean;
  onRestore(brief: Brief): void;
  onClose(): void;
}) {
  const { site } = useDesk();
  const names = useNames();
  const revisions = useQuery(revisionsQuery(site.id, callout.id));
  const differs = (content: Brief) => JSON.stringify(content) !== JSON.stringify(draft);
  return (
    <Frame
      revisions={revisions}
      liveNumber={callout.state === 'live' ? callout.revision : undefined}
      differs={(content) => compareBriefs(content, draft, names).length > 0 || differs(content)}
      mayEdit={mayEdit}
      onRestore={onRestore}
      onClose={onClose}
    >
      {(content) => {
        const diffs = compareBriefs(content, draft, names);
        if (diffs.length > 0) return diffs.map((diff) => <Diff key={diff.facet} diff={diff} />);
        return (
          <p className="text-soft">
            {differs(content) ? 'They read the same; something behind a phrase differs.' : 'The draft says what this revision says.'}
          </p>
        );
      }}
    </Frame>
  );
}

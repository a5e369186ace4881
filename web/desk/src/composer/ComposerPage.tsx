import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Link, useParams } from '@tanstack/react-router';
import { ArrowLeft } from 'lucide-react';
import { useState } from 'react';
import { useDesk } from '../app/desk';
import { type Callout, calloutQuery } from '../callouts/api';
import { useNames } from '../callouts/useNames';
import { KINDS } from '../callouts/words';
import { clock } from '../lib/time';
import { ReplayPane } from '../replay';
import { mayAct } from '../session/model';
import { Failed, Waiting } from '../ui/Notice';
import { StateSign } from '../ui/StateSign';
import { pagesQuery } from './api';
import { BriefPane } from './BriefPane';
import { EvidencePane } from './EvidencePane';
import { PublishButton } from './PublishButton';
import { RehearsalStrip } from './RehearsalStrip';
import { StagePane } from './StagePane';
import { type Saving, useDraft } from './useDraft';

/** One callout: the brief, and beside it the stage, the evidence and the rehearsal. */
export function ComposerPage() {
  const { calloutId } = useParams({ from: '/callouts/$calloutId' });
  const { site } = useDesk();
  const callout = useQuery(calloutQuery(site.id, calloutId));
  if (callout.isError) return <Failed error={callout.error} again={() => void callout.refetch()} />;
  if (!callout.data) return <Waiting>Fetching the brief</Waiting>;
  return <Composer key={calloutId} callout={callout.data} />;
}

function Composer({ callout }: { callout: Callout }) {
  const { site, member } = useDesk();
  const queries = useQueryClient();
  const names = useNames();
  const { draft, edit, saving, save, settle } = useDraft(site.id, callout);
  const { data: match } = useQuery(pagesQuery(site.id, draft.brief.where));
  const [chosenPath, setPath] = useState<string>();
  const path = chosenPath ?? match?.pages.find((p) => p.shown)?.path ?? '/';
  const mayEdit = mayAct(member.role, 'editor') && callout.state !== 'archived';
  const version = callout.draftVersion;

  async function reload() {
    await queries.invalidateQueries({ queryKey: ['callout'] });
    location.reload();
  }

  return (
    <div className="flex h-full flex-col">
      <div className="flex min-h-[52px] flex-none flex-wrap items-center gap-x-3 gap-y-1 border-b border-ink px-4 py-2">
        <Link
          to="/callouts"
          aria-label="Back to the callouts"
          className="grid h-8 w-8 place-items-center rounded border border-edge bg-sheet"
        >
          <ArrowLeft className="h-4 w-4" />
        </Link>
        <h1 className="min-w-0">
          <input
            aria-label="Name of this callout"
            value={draft.name}
            maxLength={80}
            disabled={!mayEdit}
            onChange={(e) => edit({ name: e.currentTarget.value })}
            className="field-sizing-content max-w-[40vw] !border-transparent !bg-transparent font-display text-[22px] leading-7 font-semibold tracking-tight hover:!border-edge"
          />
        </h1>
        <span className="text-soft">{KINDS[draft.brief.kind].name.toLowerCase()}</span>
        <span className="h-4 w-px bg-strong" />
        <StateSign state={callout.state} />
        {callout.revision > 0 && <span className="text-soft">revision {callout.revision}</span>}
        <SavedNote saving={saving} changedAt={callout.changedAt} onAgain={() => void save()} onReload={() => void reload()} />
        <span className="ms-auto flex items-center gap-2">
          <PublishButton callout={{ ...callout, draft: draft.brief }} settle={settle} />
        </span>
      </div>
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,46fr)_minmax(0,54fr)] max-md:grid-cols-1 max-md:overflow-auto">
        <div className="min-h-0 overflow-auto bg-sheet md:border-e md:border-ink">
          <BriefPane
            brief={draft.brief}
            live={callout.live}
            names={names}
            problems={callout.problems}
            mayEdit={mayEdit}
            onChange={(brief) => edit({ brief })}
          />
        </div>
        <div className="flex min-h-0 flex-col gap-2.5 overflow-auto px-4 py-2">
          <StagePane calloutId={callout.id} version={version} path={path} onPath={setPath} />
          <EvidencePane kind={draft.brief.kind} calloutId={callout.id} version={version} />
          <RehearsalStrip calloutId={callout.id} version={version} path={path} />
          <ReplayPane calloutId={callout.id} version={version} settle={settle} />
        </div>
      </div>
    </div>
  );
}

function SavedNote({ saving, changedAt, onAgain, onReload }: { saving: Saving; changedAt: string; onAgain(): void; onReload(): void }) {
  if (saving.is !== 'refused')
    return (
      <span role="status" className="text-soft">
        {saving.is === 'saving' ? 'Saving' : `Draft saved ${clock(changedAt)}`}
      </span>
    );
  const overtaken = saving.refusal.status === 409;
  return (
    <span role="alert" className="text-bad">
      Not saved. {saving.refusal.message}{' '}
      <button type="button" className="font-semibold underline" onClick={overtaken ? onReload : onAgain}>
        {overtaken ? 'Reload' : 'Try again'}
      </button>
    </span>
  );
}

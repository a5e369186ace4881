import { useQuery } from '@tanstack/react-query';
import { Link, Navigate, useNavigate, useParams, useSearch } from '@tanstack/react-router';
import { DropdownMenu } from 'radix-ui';
import { type ReactNode, useState } from 'react';
import { changedPhrases } from '../brief/model';
import type { Brief, Callout } from '../brief/types';
import { useNames } from '../brief/useNames';
import { KINDS } from '../brief/words';
import { calloutQuery } from '../callouts/api';
import { useGreeting } from '../callouts/greetings';
import { pagesQuery } from '../catalogue/api';
import { usePeople, useTurnedTo } from '../data/people';
import { DefinitionHead, RevisionsButton } from '../drafting/DefinitionHead';
import { SavedNote } from '../drafting/SavedNote';
import { useUndoKeys } from '../drafting/useUndoKeys';
import { Button } from '../kit/Button';
import { Failed, Waiting } from '../kit/Notice';
import { Refused } from '../kit/Panel';
import { ReplayPane } from '../replay/ReplayPane';
import { AskForReview } from '../review/AskForReview';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { useTitle } from '../session/useTitle';
import { plannedPage } from '../visits/model';
import { useTrial } from '../visits/useTrial';
import { AskedPane } from './AskedPane';
import { BriefPane } from './BriefPane';
import { EvidencePane } from './EvidencePane';
import { PublishButton } from './PublishButton';
import { partWords } from './parts';
import { RehearsalStrip } from './RehearsalStrip';
import { RevisionsPanel } from './RevisionsPanel';
import { type AfterYes, StagePane } from './StagePane';
import { useDraft } from './useDraft';
import { WhyPane } from './WhyPane';

/** A pattern that is one page's path: before a page was heard of, that is where to look. */
const ONE_PAGE = /^\/[^*?]*$/;

/** One callout: the brief, and beside it the stage, the evidence and the rehearsal. */
export function ComposerPage() {
  const { calloutId } = useParams({ from: '/callouts/$calloutId' });
  const { site } = useDesk();
  const callout = useQuery(calloutQuery(site.id, calloutId));
  const { open } = useSearch({ from: '/callouts/$calloutId' });
  // A greeting is a callout on the page; its brief is a rung of its launcher's ladder.
  const greeting = useGreeting(callout.isError ? calloutId : undefined);
  if (greeting)
    return (
      <Navigate to="/launchers/$launcherId" params={{ launcherId: greeting.launcherId }} search={{ rung: calloutId, part: open }} replace />
    );
  if (callout.isError) return <Failed page="Callout" error={callout.error} again={() => void callout.refetch()} />;
  if (!callout.data) return <Waiting page="Callout">Fetching the brief</Waiting>;
  return <Composer key={calloutId} callout={callout.data} />;
}

function Composer({ callout }: { callout: Callout }) {
  const { site, member } = useDesk();
  const names = useNames();
  const { draft, edit, undo, redo, canUndo, canRedo, saving, save, settle } = useDraft(site.id, callout);
  useTitle(draft.name);
  const { open } = useSearch({ from: '/callouts/$calloutId' });
  const navigate = useNavigate({ from: '/callouts/$calloutId' });
  const [facet, setFacet] = useState<string>();
  const [showsRevisions, setShowsRevisions] = useState(false);
  const people = usePeople();
  const trial = useTrial();
  useTurnedTo(facet ? `callout:${callout.id}:${facet}` : `callout:${callout.id}`);
  const here = people.all.filter((c) => c.memberId !== member.id && c.place.startsWith(`callout:${callout.id}`));
  const { data: match } = useQuery(pagesQuery(site.id, draft.brief.where));
  const [chosenPath, setPath] = useState<string>();
  const path =
    chosenPath ??
    (match?.pages.find((p) => p.shown && !p.quietBy) ?? match?.pages.find((p) => p.shown))?.path ??
    draft.brief.where.includes.find((p) => ONE_PAGE.test(p)) ??
    '/';
  const mayEdit = mayAct(member, 'draft') && callout.state !== 'archived';
  const version = callout.draftVersion;
  const languages = draft.brief.say.translations.map((t) => t.language).filter(Boolean);

  useUndoKeys({ undo, redo, mayEdit });

  return (
    <div className="flex h-full flex-col">
      <DefinitionHead
        back="/callouts"
        noun="callout"
        name={draft.name}
        state={callout.stands}
        kind={KINDS[draft.brief.kind].name.toLowerCase()}
        revision={callout.revision}
        mayEdit={mayEdit}
        onName={(name) => edit({ name })}
        history={{ undo, redo, canUndo, canRedo }}
        saved={
          <SavedNote
            saving={saving}
            partWords={partWords}
            hasDraft={callout.live === null || changedPhrases(draft.brief, callout.live).length > 0}
            changedAt={callout.changedAt}
            onAgain={() => void save()}
          />
        }
        here={here.map((c) => c.name)}
      >
        {mayEdit && (
          <AskForReview
            definitionId={callout.id}
            differs={callout.live === null || changedPhrases(draft.brief, callout.live).length > 0}
            settle={settle}
          />
        )}
        <RevisionsButton isOpen={showsRevisions} onPress={() => setShowsRevisions((s) => !s)} />
        <Link
          to="/rehearsal"
          search={{ draft: callout.id, pages: [plannedPage(path)] }}
          className="inline-flex min-h-8 items-center rounded border border-ink bg-sheet px-3 font-semibold whitespace-nowrap hover:bg-sheet2 max-sm:hidden"
        >
          Rehearse
        </Link>
        <WalkMenu
          disabled={trial.isPending}
          onRevisions={() => setShowsRevisions((s) => !s)}
          rehearseAt={path}
          calloutId={callout.id}
          onWalk={(liftLimits) => trial.mutate({ path, visitor: {}, draft: callout.id, liftLimits })}
        />
        <PublishButton callout={{ ...callout, draft: draft.brief }} settle={settle} onDraft={(brief) => edit({ brief })} />
      </DefinitionHead>
      <Refused error={trial.error} />
      <div className="relative flex min-h-0 flex-1">
        <div className="grid min-h-0 min-w-0 flex-1 grid-cols-[minmax(0,46fr)_minmax(0,54fr)] max-md:grid-cols-1 max-md:overflow-auto">
          <div data-draft className="min-h-0 overflow-auto bg-sheet md:border-e md:border-ink">
            <BriefPane
              brief={draft.brief}
              live={callout.live}
              names={names}
              // Of a brief that nobody has touched yet nothing is wrong; what is missing is asked for when it is to go live.
              problems={callout.revision === 0 && callout.draftVersion <= 1 ? [] : callout.problems}
              mayEdit={mayEdit}
              openAt={open}
              onLeft={() => void navigate({ search: {}, replace: true })}
              colleagues={here.map((c) => ({ name: c.name, facet: c.place.split(':')[2] ?? '' }))}
              onOpen={setFacet}
              onChange={(brief) => edit({ brief })}
            />
          </div>
          <div className="flex min-h-0 flex-col gap-2.5 overflow-auto px-4 py-2">
            <StagePane
              calloutId={callout.id}
              version={version}
              path={path}
              languages={languages}
              place={draft.brief.look.shape === 'inset' ? draft.brief.look.anchor : ''}
              after={draft.brief.ask ? afterYes(draft.brief.ask) : undefined}
              onPath={setPath}
            />
            {draft.brief.kind === 'prompt' ? (
              <AskedPane calloutId={callout.id} isLive={callout.revision > 0} confirms={!!draft.brief.ask?.confirms} />
            ) : (
              <EvidencePane kind={draft.brief.kind} calloutId={callout.id} version={version} />
            )}
            <RehearsalStrip calloutId={callout.id} version={version} path={path} />
            <ReplayPane calloutId={callout.id} version={version} settle={settle} />
            <WhyPane calloutId={callout.id} version={version} />
          </div>
        </div>
        {showsRevisions && (
          <RevisionsPanel
            callout={callout}
            draft={draft.brief}
            mayEdit={mayEdit}
            onRestore={(brief) => edit({ brief })}
            onClose={() => setShowsRevisions(false)}
          />
        )}
      </div>
    </div>
  );
}

/** What the face after a yes brings: where an address is confirmed first, what was promised comes with the mail. */
function afterYes({ confirms, reward }: NonNullable<Brief['ask']>): AfterYes {
  if (confirms) return 'wrote';
  return reward.kind === 'file' ? 'file' : reward.kind === 'none' ? 'thanks' : 'code';
}

/** Opens the live site with this draft on air, as a new visitor, with limits as they are or lifted. */
function WalkMenu({
  disabled,
  calloutId,
  rehearseAt,
  onRevisions,
  onWalk,
}: {
  disabled: boolean;
  calloutId: string;
  /** The page on the stage. */
  rehearseAt: string;
  onRevisions(): void;
  onWalk(liftLimits: boolean): void;
}) {
  const navigate = useNavigate();
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger asChild disabled={disabled}>
        <Button>
          <span className="max-sm:hidden">Start a trial visit</span>
          <span className="sm:hidden">More</span>
        </Button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" sideOffset={6} className="z-50 w-[300px] rounded border border-ink bg-sheet p-1 shadow-lg">
          <div className="sm:hidden">
            <MoreItem onSelect={onRevisions}>Revisions</MoreItem>
            <MoreItem onSelect={() => void navigate({ to: '/rehearsal', search: { draft: calloutId, pages: [plannedPage(rehearseAt)] } })}>
              Rehearse
            </MoreItem>
            <DropdownMenu.Label className="px-2 pt-2 text-[12px] text-soft">Start a trial visit</DropdownMenu.Label>
          </div>
          {(
            [
              [false, 'As a new visitor', 'With this draft on air among everything that is live; nothing is counted.'],
              [true, 'With limits lifted', 'Caps, hush, holdbacks and least numbers do not hold, so that it can be seen again and again.'],
            ] as const
          ).map(([lift, words, hint]) => (
            <DropdownMenu.Item
              key={words}
              onSelect={() => onWalk(lift)}
              className="grid cursor-pointer rounded px-2 py-1.5 outline-none data-[highlighted]:bg-selectwash"
            >
              <span className="font-semibold">{words}</span>
              <span className="text-[12px] leading-4 text-soft">{hint}</span>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

/** An act that has a button of its own where there is room. */
function MoreItem({ onSelect, children }: { onSelect(): void; children: ReactNode }) {
  return (
    <DropdownMenu.Item
      onSelect={onSelect}
      className="flex min-h-11 cursor-pointer items-center rounded px-2 font-semibold outline-none data-[highlighted]:bg-selectwash"
    >
      {children}
    </DropdownMenu.Item>
  );
}

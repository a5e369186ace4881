import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useParams, useSearch } from '@tanstack/react-router';
import { useState } from 'react';
import { useNames } from '../brief/useNames';
import { pagesQuery } from '../catalogue/api';
import { usePeople, useTurnedTo } from '../data/people';
import { ChangeList } from '../drafting/ChangeList';
import { DefinitionHead, RevisionsButton } from '../drafting/DefinitionHead';
import { moveDefinition } from '../drafting/moves';
import { PublishDefinition } from '../drafting/PublishDefinition';
import { RevisionsPanel } from '../drafting/RevisionsPanel';
import { SavedNote } from '../drafting/SavedNote';
import { useUndoKeys } from '../drafting/useUndoKeys';
import { Button } from '../kit/Button';
import { Failed, Waiting } from '../kit/Notice';
import { AskForReview } from '../review/AskForReview';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { useTitle } from '../session/useTitle';
import {
  type Device,
  fetchLauncher,
  type Launcher,
  type LauncherBrief,
  launcherQuery,
  launcherRevisionsQuery,
  publishLauncher,
  type Visitor,
} from './api';
import { ChannelsPane } from './ChannelsPane';
import { HoursPane } from './HoursPane';
import { LadderPane } from './LadderPane';
import { LauncherStage } from './LauncherStage';
import { LookPanel } from './LookPanel';
import { PERSONAS, tonight } from './personas';
import { StandsSentence } from './StandsSentence';
import { partWords, useLauncherDraft } from './useLauncherDraft';
import { changesOf } from './words';

/** One launcher: its ladder of greetings, its ways to talk, its hours, and beside them what a visitor meets. */
export function LauncherPage() {
  const { launcherId } = useParams({ from: '/launchers/$launcherId' });
  const { site } = useDesk();
  const launcher = useQuery(launcherQuery(site.id, launcherId));
  if (launcher.isError) return <Failed page="Launcher" error={launcher.error} again={() => void launcher.refetch()} />;
  if (!launcher.data) return <Waiting page="Launcher">Fetching the launcher</Waiting>;
  return <Desk key={launcherId} launcher={launcher.data} />;
}

const EVERYWHERE = { includes: [], excludes: [], groups: [], replaces: false };

function Desk({ launcher }: { launcher: Launcher }) {
  const { site, member } = useDesk();
  const queries = useQueryClient();
  const names = useNames();
  const { draft, edit, undo, redo, canUndo, canRedo, saving, save, settle } = useLauncherDraft(site.id, launcher);
  useTitle(draft.name);
  useTurnedTo(`launcher:${launcher.id}`);
  const people = usePeople();
  const here = people.all.filter((c) => c.memberId !== member.id && c.place.startsWith(`launcher:${launcher.id}`));
  const { rung, part } = useSearch({ from: '/launchers/$launcherId' });
  const { data: pages } = useQuery(pagesQuery(site.id, EVERYWHERE));
  // Nobody of those for somebody else.
  const [persona, setPersona] = useState<(typeof PERSONAS)[number] | undefined>(PERSONAS[0]);
  const [other, setOther] = useState<Visitor>({});
  const [device, setDevice] = useState<Device>('desktop');
  const [chosenPath, setPath] = useState<string>();
  const [at, setAt] = useState('');
  const [panel, setPanel] = useState<'look' | 'revisions'>();
  const revisions = useQuery({ ...launcherRevisionsQuery(site.id, launcher.id), enabled: panel === 'revisions' });
  const brief = draft.brief;
  const mayEdit = mayAct(member, 'draft') && launcher.state !== 'archived';
  const put = (change: Partial<LauncherBrief>) => edit({ brief: { ...brief, ...change } });
  // Where a greeting is for one page in particular, that is where there is most to see.
  const path =
    chosenPath ??
    pages?.pages.find((p) => brief.rungs.some((r) => r.where.includes.some((i) => i.endsWith('/*') && p.path.startsWith(i.slice(0, -1)))))
      ?.path ??
    '/';
  const visitor = { ...(persona?.visitor ?? other), device };
  const when = at || (persona?.atNight ? tonight(brief.hours.zone || site.timeZone, new Date()) : '');
  const changes = launcher.live ? changesOf(brief, launcher.live, names) : [];

  useUndoKeys({ undo, redo, mayEdit });

  return (
    <div className="flex h-full flex-col">
      <DefinitionHead
        back="/launchers"
        noun="launcher"
        name={draft.name}
        state={launcher.state}
        revision={launcher.revision}
        mayEdit={mayEdit}
        onName={(name) => edit({ name })}
        history={{ undo, redo, canUndo, canRedo }}
        saved={
          <SavedNote
            saving={saving}
            partWords={partWords}
            hasDraft={launcher.live === null || changes.length > 0}
            changedAt={launcher.changedAt}
            onAgain={() => void save()}
          />
        }
        here={here.map((c) => c.name)}
      >
        <Button aria-pressed={panel === 'look'} onClick={() => setPanel(panel === 'look' ? undefined : 'look')}>
          Look and words
        </Button>
        <RevisionsButton isOpen={panel === 'revisions'} onPress={() => setPanel(panel === 'revisions' ? undefined : 'revisions')} />
        {mayEdit && <AskForReview definitionId={launcher.id} differs={launcher.live === null || changes.length > 0} settle={settle} />}
        <PublishDefinition
          noun="launchers"
          definition={launcher}
          changes={changes}
          pausedNote="Paused. New page views have it no more."
          publish={async () => publishLauncher(site.id, launcher.id, await settle())}
          turn={async () => {
            await moveDefinition('launcher', site.id, launcher.id, launcher.state === 'live' ? 'pause' : 'resume');
            return fetchLauncher(site.id, launcher.id);
          }}
          onTaken={(saved) => {
            queries.setQueryData(launcherQuery(site.id, launcher.id).queryKey, saved);
            void queries.invalidateQueries({ queryKey: ['launchers'] });
          }}
        >
          {launcher.draft.where.includes.length + launcher.draft.where.groups.length + launcher.draft.where.excludes.length === 0 && (
            <p className="text-warn">No page is left out, so it stands on checkout, too.</p>
          )}
          <p className="text-[12px] leading-4 text-soft">New page views have it at once. Pages that are open now keep what they have.</p>
        </PublishDefinition>
      </DefinitionHead>
      <div className="relative flex min-h-0 flex-1">
        <div className="grid min-h-0 min-w-0 flex-1 grid-cols-[minmax(0,58fr)_minmax(0,42fr)] max-lg:grid-cols-1 max-lg:overflow-auto">
          <div data-draft className="flex min-h-0 flex-col overflow-auto lg:border-e lg:border-ink">
            <StandsSentence brief={brief} names={names} problems={launcher.problems} mayEdit={mayEdit} onChange={put} />
            <LadderPane
              launcher={launcher}
              brief={brief}
              names={names}
              visitor={visitor}
              path={path}
              at={when}
              asked={rung}
              askedPart={part}
              mayEdit={mayEdit}
              onChange={put}
            />
            <div className="grid flex-none grid-cols-2 border-t border-ink max-md:grid-cols-1">
              <ChannelsPane launcher={launcher} brief={brief} mayEdit={mayEdit} onChange={put} />
              <HoursPane launcher={launcher} brief={brief} mayEdit={mayEdit} onChange={put} />
            </div>
          </div>
          <div className="flex min-h-0 flex-col gap-2 overflow-auto px-4 py-2">
            <LauncherStage
              launcher={launcher}
              persona={persona}
              visitor={visitor}
              path={path}
              at={when}
              onPersona={(chosen) => {
                // Somebody else begins as who was there last.
                if (!chosen && persona) setOther(persona.visitor);
                setPersona(chosen);
                setAt('');
              }}
              onOther={(change) => {
                setOther((was) => ({ ...was, ...change }));
                if (change.device) setDevice(change.device);
              }}
              onRecorded={(recorded) => {
                setOther(recorded.visitor);
                setDevice(recorded.visitor.device ?? 'desktop');
                if (recorded.pages[0]) setPath(recorded.pages[0].path);
              }}
              onDevice={setDevice}
              onPath={setPath}
              onAt={setAt}
            />
          </div>
        </div>
        {panel === 'look' && (
          <LookPanel brief={brief} problems={launcher.problems} mayEdit={mayEdit} onChange={put} onClose={() => setPanel(undefined)} />
        )}
        {panel === 'revisions' && (
          <RevisionsPanel
            revisions={revisions}
            liveNumber={launcher.state === 'live' ? launcher.revision : undefined}
            differs={(content) => changesOf(brief, content, names).length > 0}
            mayEdit={mayEdit}
            onRestore={(content) => edit({ brief: content })}
            onClose={() => setPanel(undefined)}
          >
            {(content) => <ChangeList changes={changesOf(brief, content, names)} none="The draft says what this revision says." />}
          </RevisionsPanel>
        )}
      </div>
    </div>
  );
}

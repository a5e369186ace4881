import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useParams } from '@tanstack/react-router';
import { useEffect, useRef, useState } from 'react';
import { useTurnedTo } from '../data/people';
import { ChangeList } from '../drafting/ChangeList';
import { DefinitionHead, RevisionsButton } from '../drafting/DefinitionHead';
import { PublishDefinition } from '../drafting/PublishDefinition';
import { RevisionsPanel } from '../drafting/RevisionsPanel';
import { SavedNote } from '../drafting/SavedNote';
import { useDefinitionDraft } from '../drafting/useDefinitionDraft';
import { useUndoKeys } from '../drafting/useUndoKeys';
import { WrittenIn } from '../drafting/WrittenIn';
import { Button } from '../kit/Button';
import { Failed, Waiting } from '../kit/Notice';
import { AskForReview } from '../review/AskForReview';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { useTitle } from '../session/useTitle';
import {
  type FollowStep,
  type FollowUp,
  type FollowUpDefinition,
  fetchFollowUp,
  followFiguresQuery,
  followUpQuery,
  followUpRevisionsQuery,
  pauseFollowUp,
  publishFollowUp,
  resumeFollowUp,
  saveFollowUp,
} from './api';
import { CalendarPane } from './CalendarPane';
import { FollowLine, type LineAct } from './FollowLine';
import { FollowSentence } from './FollowSentence';
import { blankStep, changesOf, isWhole, lineOf, moved, writes } from './steps';

const PARTS: Record<'name' | keyof FollowUp, string> = {
  name: 'the name',
  after: 'by what somebody comes in',
  definitionId: 'to what they said yes',
  tag: 'the tag',
  steps: 'the steps',
  hours: 'when it writes',
  goalSourceId: 'what ends it',
  endsWithTalk: 'whether a talk ends it',
};

/** One follow-up: its sentence, its steps, and beside them what somebody would get when. */
export function FollowUpPage() {
  const { followUpId } = useParams({ from: '/followups/$followUpId' });
  const { site } = useDesk();
  const follow = useQuery(followUpQuery(site.id, followUpId));
  if (follow.isError) return <Failed page="Follow-up" error={follow.error} again={() => void follow.refetch()} />;
  if (!follow.data) return <Waiting page="Follow-up">Fetching the follow-up</Waiting>;
  return <Desk key={followUpId} definition={follow.data} />;
}

/** What is written that has words in the site's own language and none, or not all, in another. */
const missing = (steps: readonly FollowStep[], language: string) => steps.filter((s) => writes(s) && !isWhole(s, language)).length;

function Desk({ definition }: { definition: FollowUpDefinition }) {
  const { site, member } = useDesk();
  const queries = useQueryClient();
  const { draft, edit, undo, redo, canUndo, canRedo, saving, save, settle } = useDefinitionDraft<FollowUp, FollowUpDefinition>(definition, {
    noun: 'follow-up',
    queryKey: followUpQuery(site.id, definition.id).queryKey,
    fetch: () => fetchFollowUp(site.id, definition.id),
    save: (name, content, version) => saveFollowUp(site.id, definition.id, name, content, version),
  });
  useTitle(draft.name);
  useTurnedTo(`followup:${definition.id}`);
  const follow = draft.brief;
  const mayEdit = mayAct(member, 'draft') && definition.state !== 'archived';
  useUndoKeys({ undo, redo, mayEdit });
  const [open, setOpen] = useState<string>();
  const [language, setLanguage] = useState('');
  const [showsRevisions, showRevisions] = useState(false);
  const list = useRef<HTMLOListElement>(null);
  const goTo = useRef<string>(undefined);
  const hasRun = definition.revision > 0;
  const revisions = useQuery({ ...followUpRevisionsQuery(site.id, definition.id), enabled: showsRevisions });
  const figures = useQuery({ ...followFiguresQuery(site.id, definition.id), enabled: hasRun });
  // Where a key led: a new step, or the same one at its new place.
  useEffect(() => {
    if (!goTo.current) return;
    const row = list.current?.querySelector<HTMLElement>(`[data-step="${goTo.current}"] [data-line]`);
    goTo.current = undefined;
    row?.focus();
  });
  const put = (change: Partial<FollowUp>) => edit({ brief: { ...follow, ...change } });
  const putSteps = (steps: readonly FollowStep[]) => put({ steps: [...steps] });
  const changes = definition.live ? changesOf(follow, definition.live) : [];
  const differs = definition.live === null || changes.length > 0;
  const blocking = definition.problems.filter((p) => p.blocks).length;
  const whole = definition.problems.filter((p) => lineOf(p.field) === undefined);
  const languages = [...new Set(follow.steps.flatMap((s) => s.words.map((w) => w.language)).filter(Boolean))];
  const offered = language && !languages.includes(language) ? [...languages, language] : languages;

  function act(at: number, how: LineAct) {
    const step = follow.steps[at];
    if (!step) return;
    if (how === 'remove') return putSteps(follow.steps.filter((s) => s.id !== step.id));
    if (how === 'new') {
      // After a wait comes a mail, and after anything else a wait.
      const next = blankStep(step.kind === 'wait' ? 'mail' : 'wait');
      goTo.current = next.id;
      setOpen(next.id);
      return putSteps([...follow.steps.slice(0, at + 1), next, ...follow.steps.slice(at + 1)]);
    }
    goTo.current = step.id;
    putSteps(moved(follow.steps, at, how === 'up' ? -1 : 1));
  }

  return (
    <div className="flex h-full flex-col">
      <DefinitionHead
        back="/followups"
        noun="follow-up"
        name={draft.name}
        state={definition.state}
        revision={definition.revision}
        mayEdit={mayEdit}
        onName={(name) => edit({ name })}
        history={{ undo, redo, canUndo, canRedo }}
        saved={
          <SavedNote
            saving={saving}
            partWords={(part: keyof typeof PARTS) => PARTS[part]}
            hasDraft={differs}
            changedAt={definition.changedAt}
            onAgain={() => void save()}
          />
        }
        choice={<WrittenIn language={language} languages={offered} missing={(l) => missing(follow.steps, l)} onLanguage={setLanguage} />}
      >
        <RevisionsButton isOpen={showsRevisions} onPress={() => showRevisions(!showsRevisions)} />
        {mayEdit && <AskForReview definitionId={definition.id} differs={differs} settle={settle} />}
        <PublishDefinition
          noun="follow-ups"
          definition={definition}
          changes={changes}
          pausedNote="Paused. Whoever is in it stays where they are."
          publish={async () => publishFollowUp(site.id, definition.id, await settle())}
          turn={() => (definition.state === 'live' ? pauseFollowUp(site.id, definition.id) : resumeFollowUp(site.id, definition.id))}
          onTaken={(saved) => {
            queries.setQueryData(followUpQuery(site.id, definition.id).queryKey, saved);
            void queries.invalidateQueries({ queryKey: ['followups'] });
            void queries.invalidateQueries({ queryKey: followUpRevisionsQuery(site.id, definition.id).queryKey });
          }}
        >
          <p className="text-[12px] leading-4 text-soft">
            Whoever says yes from now on comes into it. Those inside keep the revision they have.
          </p>
        </PublishDefinition>
      </DefinitionHead>
      <div className="relative flex min-h-0 flex-1">
        <div
          className={`grid min-h-0 min-w-0 flex-1 max-lg:grid-cols-1 max-lg:overflow-auto ${showsRevisions ? '' : 'grid-cols-[minmax(0,1fr)_420px]'}`}
        >
          <div data-draft className="flex min-h-0 flex-col bg-sheet lg:border-e lg:border-ink">
            <div className="flex-none border-b border-ink px-4 py-3">
              <FollowSentence follow={follow} mayEdit={mayEdit} onChange={put} />
              {whole.map((p) => (
                <p key={`${p.field}:${p.message}`} className={`pt-1 text-[12px] leading-4 ${p.blocks ? 'text-bad' : 'text-warn'}`}>
                  <b>{p.blocks ? 'Stops publishing:' : 'Worth a look:'}</b> {p.message}
                </p>
              ))}
            </div>
            <ol ref={list} aria-label="Steps" className="min-h-0 flex-1 overflow-auto">
              {follow.steps.map((step, at) => (
                <FollowLine
                  key={step.id}
                  step={step}
                  at={at}
                  language={language}
                  problems={definition.problems.filter((p) => lineOf(p.field) === at)}
                  isOpen={open === step.id}
                  mayEdit={mayEdit}
                  here={figures.data?.here[step.id] ?? 0}
                  wentOn={figures.data?.wentOn[step.id] ?? 0}
                  onOpen={() => setOpen(step.id)}
                  onChange={(next) => putSteps(follow.steps.map((s) => (s.id === next.id ? next : s)))}
                  onAct={(how) => act(at, how)}
                />
              ))}
              {mayEdit && follow.steps.length === 0 && (
                <li className="p-4">
                  <Button onClick={() => putSteps([blankStep('mail')])}>Write a first mail</Button>
                </li>
              )}
            </ol>
            <p className="flex flex-none flex-wrap items-center gap-x-4 border-t border-ink px-4 py-2 text-[12px] text-soft">
              <span role="status" className={blocking > 0 ? 'font-semibold text-bad' : ''}>
                {blocking > 0 ? `${blocking} to mend before publishing` : 'Nothing stands in the way of publishing'}
              </span>
              <span>
                <kbd className="rounded border border-hair px-1 font-mono">Enter</kbd> new step
              </span>
              <span>
                <kbd className="rounded border border-hair px-1 font-mono">Alt ↑↓</kbd> move
              </span>
            </p>
          </div>
          <div
            className={`min-h-0 overflow-auto bg-sheet2 ${showsRevisions ? 'hidden' : ''}`}
            role="region"
            aria-label="Calendar"
            tabIndex={0}
          >
            <CalendarPane id={definition.id} follow={follow} languages={offered} hasRun={hasRun} onStep={setOpen} />
          </div>
        </div>
        {showsRevisions && (
          <RevisionsPanel
            revisions={revisions}
            liveNumber={definition.state === 'live' ? definition.revision : undefined}
            differs={(content) => changesOf(follow, content).length > 0}
            mayEdit={mayEdit}
            onRestore={(content) => edit({ brief: content })}
            onClose={() => showRevisions(false)}
          >
            {(content) => <ChangeList changes={changesOf(follow, content)} none="The draft says what this revision says." />}
          </RevisionsPanel>
        )}
      </div>
    </div>
  );
}

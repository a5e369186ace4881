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
import { Failed, Waiting } from '../kit/Notice';
import { plural } from '../kit/plural';
import { AskForReview } from '../review/AskForReview';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { useTitle } from '../session/useTitle';
import {
  fetchScript,
  pauseScript,
  publishScript,
  reachQuery,
  resumeScript,
  type Script,
  type ScriptDefinition,
  type Step,
  saveScript,
  scriptQuery,
  scriptRevisionsQuery,
} from './api';
import { changesOf } from './changes';
import { StepRow } from './StepRow';
import { carried, inserted, lineOf, moved, settled } from './steps';
import { TryPane } from './TryPane';

const PARTS: Record<'name' | keyof Script, string> = {
  name: 'the name',
  steps: 'the steps',
  lineSeconds: 'the pace',
  silenceMinutes: 'the silence after which it ends',
  tries: 'the tries',
  fault: 'what it says when something goes wrong',
};

/** One script: its steps as an outline, and beside it the same tried. */
export function ScriptPage() {
  const { scriptId } = useParams({ from: '/scripts/$scriptId' });
  const { site } = useDesk();
  const script = useQuery(scriptQuery(site.id, scriptId));
  if (script.isError) return <Failed page="Script" error={script.error} again={() => void script.refetch()} />;
  if (!script.data) return <Waiting page="Script">Fetching the script</Waiting>;
  return <Desk key={scriptId} script={script.data} />;
}

/** Steps that have words in the site's own language and none in another. */
const missing = (steps: readonly Step[], language: string) =>
  steps.filter((s) => s.words.some((w) => w.language === '' && w.words) && !s.words.some((w) => w.language === language && w.words)).length;

function Desk({ script }: { script: ScriptDefinition }) {
  const { site, member } = useDesk();
  const queries = useQueryClient();
  const { draft, edit, undo, redo, canUndo, canRedo, saving, save, settle } = useDefinitionDraft<Script, ScriptDefinition>(script, {
    noun: 'script',
    queryKey: scriptQuery(site.id, script.id).queryKey,
    fetch: () => fetchScript(site.id, script.id),
    save: (name, content, version) => saveScript(site.id, script.id, name, content, version),
  });
  useTitle(draft.name);
  useTurnedTo(`script:${script.id}`);
  const brief = draft.brief;
  const mayEdit = mayAct(member, 'draft') && script.state !== 'archived';
  useUndoKeys({ undo, redo, mayEdit });
  const [open, setOpen] = useState<string>();
  const [language, setLanguage] = useState('');
  const list = useRef<HTMLOListElement>(null);
  const goTo = useRef<string>(undefined);
  const languages = [...new Set(brief.steps.flatMap((s) => s.words.map((w) => w.language)).filter(Boolean))];
  const offered = language && !languages.includes(language) ? [...languages, language] : languages;
  const put = (steps: readonly Step[]) => edit({ brief: { ...brief, steps: [...steps] } });
  const [showsRevisions, showRevisions] = useState(false);
  const revisions = useQuery({ ...scriptRevisionsQuery(site.id, script.id), enabled: showsRevisions });
  // Where a key led: a new step, or the same one at its new place.
  useEffect(() => {
    if (!goTo.current) return;
    const row = list.current?.querySelector<HTMLElement>(`[data-step="${goTo.current}"] [data-line]`);
    goTo.current = undefined;
    row?.focus();
  });
  const reach = useQuery({ ...reachQuery(site.id, script.id), enabled: script.revision > 0 });
  const changes = script.live ? changesOf(brief, script.live) : [];
  const differs = script.live === null || changes.length > 0;
  const blocking = script.problems.filter((p) => p.blocks).length;

  function act(at: number, how: 'up' | 'down' | 'in' | 'out' | 'new' | 'remove') {
    if (how === 'remove') return put(settled(brief.steps.filter((_, i) => i !== at)));
    const next = how === 'new' ? inserted(brief.steps, at) : moved(brief.steps, at, how);
    const to = how === 'new' ? next[at + 1]?.id : brief.steps[at]?.id;
    goTo.current = to;
    setOpen(to);
    put(next);
  }

  return (
    <div className="flex h-full flex-col">
      <DefinitionHead
        back="/scripts"
        noun="script"
        name={draft.name}
        state={script.state}
        revision={script.revision}
        mayEdit={mayEdit}
        onName={(name) => edit({ name })}
        history={{ undo, redo, canUndo, canRedo }}
        saved={
          <SavedNote
            saving={saving}
            partWords={(part: keyof typeof PARTS) => PARTS[part]}
            hasDraft={differs}
            changedAt={script.changedAt}
            onAgain={() => void save()}
          />
        }
        choice={<WrittenIn language={language} languages={offered} missing={(l) => missing(brief.steps, l)} onLanguage={setLanguage} />}
      >
        <RevisionsButton isOpen={showsRevisions} onPress={() => showRevisions(!showsRevisions)} />
        {mayEdit && <AskForReview definitionId={script.id} differs={differs} settle={settle} />}
        <PublishDefinition
          noun="scripts"
          definition={script}
          changes={changes}
          pausedNote="Paused. New talks begin without it."
          publish={async () => publishScript(site.id, script.id, await settle())}
          turn={() => (script.state === 'live' ? pauseScript(site.id, script.id) : resumeScript(site.id, script.id))}
          onTaken={(saved) => {
            queries.setQueryData(scriptQuery(site.id, script.id).queryKey, saved);
            void queries.invalidateQueries({ queryKey: ['scripts'] });
            void queries.invalidateQueries({ queryKey: scriptRevisionsQuery(site.id, script.id).queryKey });
          }}
        >
          <p className="text-[12px] leading-4 text-soft">New talks begin with it. Talks that have begun keep the revision they have.</p>
        </PublishDefinition>
      </DefinitionHead>
      <div className="relative flex min-h-0 flex-1">
        <div
          className={`grid min-h-0 min-w-0 flex-1 max-lg:grid-cols-1 max-lg:overflow-auto ${showsRevisions ? '' : 'grid-cols-[minmax(0,1fr)_420px]'}`}
        >
          <div data-draft className="flex min-h-0 flex-col bg-sheet lg:border-e lg:border-ink">
            <ol ref={list} aria-label="Steps" className="min-h-0 flex-1 overflow-auto">
              {brief.steps.map((step, at) => (
                <StepRow
                  key={step.id}
                  step={step}
                  at={at}
                  steps={brief.steps}
                  language={language}
                  problems={script.problems.filter((p) => lineOf(p.field) === at)}
                  isOpen={open === step.id}
                  mayEdit={mayEdit}
                  onOpen={() => setOpen(step.id)}
                  onChange={(next) => put(settled(brief.steps.map((s) => (s.id === next.id ? next : s))))}
                  onAct={(how) => act(at, how)}
                  onCarry={(id) => put(carried(brief.steps, id, step.id))}
                  reached={reach.data && reach.data.talks > 0 ? (reach.data.steps[step.id] ?? 0) / reach.data.talks : undefined}
                />
              ))}
            </ol>
            <p className="flex flex-none flex-wrap items-center gap-x-4 border-t border-ink px-4 py-2 text-[12px] text-soft">
              <span role="status" className={blocking > 0 ? 'font-semibold text-bad' : ''}>
                {blocking > 0 ? `${blocking} to mend before publishing` : 'Nothing stands in the way of publishing'}
              </span>
              {reach.data && reach.data.talks > 0 && <span>shares of the latest {plural(reach.data.talks, 'talk')}</span>}
              <span>
                <kbd className="rounded border border-hair px-1 font-mono">Enter</kbd> new step
              </span>
              <span>
                <kbd className="rounded border border-hair px-1 font-mono">Alt ↑↓</kbd> move
              </span>
              <span>
                <kbd className="rounded border border-hair px-1 font-mono">Alt ←→</kbd> deeper or less deep
              </span>
            </p>
          </div>
          <div className={`min-h-0 overflow-auto bg-sheet2 ${showsRevisions ? 'hidden' : ''}`}>
            <TryPane
              script={brief}
              languages={offered}
              problems={script.problems.filter((p) => p.field.startsWith('tries'))}
              mayEdit={mayEdit}
              onStep={setOpen}
              onTries={(tries) => edit({ brief: { ...brief, tries } })}
            />
          </div>
        </div>
        {showsRevisions && (
          <RevisionsPanel
            revisions={revisions}
            liveNumber={script.state === 'live' ? script.revision : undefined}
            differs={(content) => changesOf(brief, content).length > 0}
            mayEdit={mayEdit}
            onRestore={(content) => edit({ brief: content })}
            onClose={() => showRevisions(false)}
          >
            {(content) => <ChangeList changes={changesOf(brief, content)} none="The draft says what this revision says." />}
          </RevisionsPanel>
        )}
      </div>
    </div>
  );
}

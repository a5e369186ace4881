import { Link } from '@tanstack/react-router';
import { ArrowLeft, Redo2, Undo2 } from 'lucide-react';
import type { ReactNode } from 'react';
import { Button } from '../kit/Button';
import { IconButton } from '../kit/IconButton';
import { StateSign } from '../kit/StateSign';

/** The head of a page on which one definition is edited: back, its name, how it stands, what is done with it. */
export function DefinitionHead({
  back,
  noun,
  name,
  state,
  kind,
  revision,
  mayEdit,
  onName,
  history,
  saved,
  here,
  choice,
  children,
}: {
  back: '/callouts' | '/launchers' | '/scripts' | '/followups';
  /** What it is, as one says it of one: "launcher". */
  noun: string;
  name: string;
  state: Parameters<typeof StateSign>[0]['state'];
  /** Which kind of it; nothing where there is but one. */
  kind?: string | undefined;
  revision: number;
  mayEdit: boolean;
  onName(name: string): void;
  history: { undo(): void; redo(): void; canUndo: boolean; canRedo: boolean };
  /** How the draft stands with the server. */
  saved: ReactNode;
  /** Colleagues who are at it. */
  here?: readonly string[];
  /** What is chosen for the whole page. */
  choice?: ReactNode;
  /** What can be done with it. */
  children: ReactNode;
}) {
  return (
    <div className="flex min-h-[52px] flex-none flex-wrap items-center gap-x-3 gap-y-1 border-b border-ink px-4 py-2">
      <Link
        to={back}
        aria-label={`Back to the ${noun}s`}
        className="grid h-8 w-8 flex-none place-items-center rounded border border-edge bg-sheet"
      >
        <ArrowLeft className="h-4 w-4" />
      </Link>
      <h1 className="min-w-0">
        <input
          data-draft
          aria-label={`Name of this ${noun}`}
          value={name}
          maxLength={80}
          disabled={!mayEdit}
          onChange={(e) => onName(e.currentTarget.value)}
          className="field-sizing-content max-w-[40vw] !border-transparent !bg-transparent font-display text-[22px] leading-7 font-semibold tracking-tight hover:!border-edge"
        />
      </h1>
      {kind && (
        <>
          <span className="text-soft">{kind}</span>
          <span className="h-4 w-px bg-strong" />
        </>
      )}
      <StateSign state={state} />
      {revision > 0 && <span className="text-soft">revision {revision}</span>}
      {saved}
      {mayEdit && (
        <span className="flex">
          <IconButton label="Undo" hint="Ctrl Z" disabled={!history.canUndo} onClick={history.undo}>
            <Undo2 className="h-4 w-4" />
          </IconButton>
          <IconButton label="Redo" hint="Ctrl Shift Z" disabled={!history.canRedo} onClick={history.redo}>
            <Redo2 className="h-4 w-4" />
          </IconButton>
        </span>
      )}
      {choice}
      <span className="ms-auto flex flex-wrap items-center gap-2">
        {!!here?.length && (
          <span role="status" className="text-soft">
            {[...new Set(here)].join(', ')} {here.length === 1 ? 'is' : 'are'} here
          </span>
        )}
        {children}
      </span>
    </div>
  );
}

/** Shows and hides the revisions of what is edited. */
export function RevisionsButton({ isOpen, onPress }: { isOpen: boolean; onPress(): void }) {
  return (
    <Button className="max-sm:hidden" aria-pressed={isOpen} onClick={onPress}>
      Revisions
    </Button>
  );
}

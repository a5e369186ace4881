import { clock } from '../kit/time';
import type { Part } from './merge';
import type { Saving } from './useDefinitionDraft';

const listWords = (words: readonly string[]) => words.join(', ').replace(/, ([^,]*)$/, ' and $1');

/** How a draft stands with the server, and what to do where it could not be saved. */
export function SavedNote<T extends object>({
  saving,
  partWords,
  hasDraft,
  changedAt,
  onAgain,
}: {
  saving: Saving<T>;
  /** How a part is called on the page. */
  partWords(part: Part<T>): string;
  /** Whether there is anything that is not live yet. */
  hasDraft: boolean;
  changedAt: string;
  onAgain(): void;
}) {
  if (saving.is === 'apart')
    return (
      <span role="alert" className="text-bad">
        Not saved. {saving.by} changed {listWords(saving.parts.map(partWords))} meanwhile, and so did you.{' '}
        <button type="button" className="font-semibold underline" onClick={saving.keepMine}>
          Keep mine
        </button>{' '}
        <button type="button" className="font-semibold underline" onClick={saving.takeTheirs}>
          Take theirs
        </button>
      </span>
    );
  if (saving.is !== 'refused')
    return (
      <span role="status" className="text-soft">
        {saving.is === 'saving' ? 'Saving' : hasDraft ? `Draft saved ${clock(changedAt)}` : 'No unpublished changes'}
      </span>
    );
  return (
    <span role="alert" className="text-bad">
      Not saved. {saving.refusal.message}{' '}
      <button type="button" className="font-semibold underline" onClick={onAgain}>
        Try again
      </button>
    </span>
  );
}

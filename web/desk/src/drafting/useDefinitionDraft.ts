import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useRef, useState } from 'react';
import { Refusal } from '../data/api';
import { say } from '../data/toasts';
import { begin, go, type History, ONE_STEP_MS, redo, undo } from './history';
import { type Draft, merge, type Part, withParts } from './merge';

/** How a draft stands with the server. */
export type Saving<T extends object> =
  | { is: 'saved' }
  | { is: 'saving' }
  | { is: 'refused'; refusal: Refusal }
  /** A colleague changed the same parts meanwhile: one of the two has to be chosen before anything is saved. */
  | { is: 'apart'; by: string; parts: readonly Part<T>[]; keepMine(): void; takeTheirs(): void };

/** Saved this long after the last key; short enough that the stage follows while one types. */
const SAVE_AFTER_MS = 250;

/** A definition as the server keeps it. */
export interface Kept<T extends object> {
  id: string;
  name: string;
  draftVersion: number;
  draft: T;
  changedBy: string;
}

/** What is a kind of definition's own about being drafted. */
export interface DraftKind<T extends object, K extends Kept<T>> {
  /** One of it in a word: "callout". */
  noun: string;
  queryKey: readonly unknown[];
  /** Asks for it as it is kept now. */
  fetch(): Promise<K>;
  save(name: string, content: T, version: number): Promise<K>;
  /** Whether the server changed something of what it was sent that the desk has to take over. */
  isSettled?(saved: T, sent: T): boolean;
}

/**
 * Holds the draft being written and saves it by itself, one save after another, never over a colleague's: what the two
 * changed apart is put together, and of what both changed somebody decides.
 */
export function useDefinitionDraft<T extends object, K extends Kept<T>>(kept: K, kind: DraftKind<T, K>) {
  const queries = useQueryClient();
  const [draft, setDraft] = useState<Draft<T>>({ name: kept.name, brief: kept.draft });
  const [saving, setSaving] = useState<Saving<T>>({ is: 'saved' });
  const version = useRef(kept.draftVersion);
  const base = useRef(draft);
  const latest = useRef(draft);
  const busy = useRef(false);
  const dirty = useRef(false);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const settled = useRef<(() => void)[]>([]);
  const refused = useRef<Refusal>(undefined);
  const steps = useRef(begin<Draft<T>>(draft));
  const lastEdit = useRef(0);
  const saveAgain = useRef<() => Promise<void>>(undefined);
  const own = useRef(kind);
  own.current = kind;

  // Takes in what a colleague saved meanwhile; false where that could not be had, or both changed the same.
  const joinTheirs = useCallback(async () => {
    const found = await queries
      .fetchQuery({ queryKey: own.current.queryKey, queryFn: () => own.current.fetch(), staleTime: 0 })
      .catch(() => undefined);
    if (!found || found.draftVersion === version.current) return false;
    const theirs = { name: found.name, brief: found.draft };
    const { draft: joined, both } = merge(base.current, latest.current, theirs);
    const settleOn = (next: Draft<T>) => {
      version.current = found.draftVersion;
      base.current = theirs;
      if (JSON.stringify(next) === JSON.stringify(latest.current)) return;
      steps.current = go(steps.current, next, false);
      latest.current = next;
      setDraft(next);
    };
    if (both.length === 0) {
      settleOn(joined);
      say(`${found.changedBy} changed this ${own.current.noun} meanwhile. Both changes are kept.`);
      return true;
    }
    // What was typed since stays, whichever is chosen.
    const decide = (choose: (joined: Draft<T>) => Draft<T>) => () => {
      settleOn(choose(merge(base.current, latest.current, theirs).draft));
      refused.current = undefined;
      void saveAgain.current?.();
    };
    setSaving({
      is: 'apart',
      by: found.changedBy,
      parts: both,
      keepMine: decide((now) => now),
      takeTheirs: decide((now) => withParts(now, both, theirs)),
    });
    return false;
  }, [queries]);

  const save = useCallback(async () => {
    clearTimeout(timer.current);
    if (busy.current || !dirty.current) return;
    busy.current = true;
    dirty.current = false;
    setSaving({ is: 'saving' });
    refused.current = undefined;
    const sent = latest.current;
    try {
      const saved = await own.current.save(sent.name, sent.brief, version.current);
      version.current = saved.draftVersion;
      base.current = { name: saved.name, brief: saved.draft };
      queries.setQueryData(own.current.queryKey, saved);
      setSaving({ is: 'saved' });
      if (latest.current === sent && own.current.isSettled && !own.current.isSettled(saved.draft, sent.brief)) {
        latest.current = { ...sent, brief: saved.draft };
        setDraft(latest.current);
      }
    } catch (error) {
      // What was typed stays; a server that was away is tried again with the next key or the button.
      dirty.current = true;
      refused.current = error instanceof Refusal ? error : new Refusal(0, 'Not saved', 'The draft could not be saved. Try again.');
      const joined = refused.current.status === 409 && (await joinTheirs());
      if (joined) refused.current = undefined;
      else setSaving((s) => (s.is === 'apart' || !refused.current ? s : { is: 'refused', refusal: refused.current }));
      busy.current = false;
      if (joined) return void save();
    }
    busy.current = false;
    for (const done of settled.current.splice(0)) done();
    if (dirty.current && latest.current !== sent) void save();
  }, [queries, joinTheirs]);
  saveAgain.current = save;

  // What a colleague has saved appears by itself, as long as nothing of one's own waits to be saved.
  useEffect(() => {
    if (kept.draftVersion <= version.current || busy.current || dirty.current) return;
    version.current = kept.draftVersion;
    latest.current = { name: kept.name, brief: kept.draft };
    base.current = latest.current;
    steps.current = go(steps.current, latest.current, false);
    setDraft(latest.current);
  }, [kept]);

  const put = useCallback(
    (next: Draft<T>) => {
      latest.current = next;
      setDraft(latest.current);
      dirty.current = true;
      setSaving((s) => (s.is === 'apart' ? s : { is: 'saving' }));
      clearTimeout(timer.current);
      timer.current = setTimeout(() => void save(), SAVE_AFTER_MS);
    },
    [save],
  );

  const edit = useCallback(
    (change: Partial<Draft<T>>) => {
      const now = Date.now();
      const next = { ...latest.current, ...change };
      steps.current = go(steps.current, next, now - lastEdit.current < ONE_STEP_MS);
      lastEdit.current = now;
      put(next);
    },
    [put],
  );

  /** Goes a step back, or forward again; autosave keeps where one arrives. */
  const step = useCallback(
    (way: (steps: History<Draft<T>>) => History<Draft<T>>) => {
      const after = way(steps.current);
      if (after === steps.current) return;
      steps.current = after;
      lastEdit.current = 0;
      put(after.now);
    },
    [put],
  );

  useEffect(() => {
    const warn = (event: BeforeUnloadEvent) => {
      if (dirty.current || busy.current) event.preventDefault();
    };
    window.addEventListener('beforeunload', warn);
    return () => {
      window.removeEventListener('beforeunload', warn);
      void save();
    };
  }, [save]);

  /**
   * Waits until what is typed is saved, so that publishing takes what one sees.
   *
   * @returns The version that was saved last.
   * @throws Refusal - What is typed cannot be saved; nothing older may go live in its place.
   */
  const settle = useCallback(async () => {
    while (busy.current || dirty.current) {
      if (busy.current) await new Promise<void>((done) => settled.current.push(done));
      else await save();
      if (!busy.current && dirty.current && refused.current) throw refused.current;
    }
    return version.current;
  }, [save]);

  return {
    draft,
    edit,
    undo: () => step(undo),
    redo: () => step(redo),
    canUndo: steps.current.past.length > 0,
    canRedo: steps.current.future.length > 0,
    saving,
    save,
    settle,
    version,
  };
}

import type { FormEvent, ReactNode } from 'react';
import { useState } from 'react';
import { Refusal } from '../data/api';
import { Mark } from '../kit/Mark';

/** A sheet before the desk: what is asked for, one thing at a time. */
export function Door({ title, words, wide, children }: { title: string; words?: ReactNode; wide?: boolean; children: ReactNode }) {
  return (
    <main className="grid min-h-full place-items-center p-4">
      <div className={`grid w-full gap-4 rounded border border-ink bg-sheet p-8 max-sm:p-5 ${wide ? 'max-w-[520px]' : 'max-w-[380px]'}`}>
        <h1 className="flex items-center gap-3 text-[28px] leading-9">
          <Mark className="h-7 flex-none" /> {title}
        </h1>
        {words && <p className="font-display text-[16px] leading-[26px] text-soft">{words}</p>}
        {children}
      </div>
    </main>
  );
}

/** What went wrong, in the words of the refusal. */
export function useRefusal() {
  const [problem, setProblem] = useState<{ words: string; field?: string | undefined }>();
  const [busy, setBusy] = useState(false);
  return {
    busy,
    /** What is wrong with a field; undefined for nothing. */
    of: (field: string) => (problem?.field === field ? problem.words : undefined),
    /** What is wrong beside all fields. */
    other: (fields: readonly string[]) => (problem && !(problem.field && fields.includes(problem.field)) ? problem.words : undefined),
    /** Runs an act with a form's texts. */
    run(act: (text: (name: string) => string) => Promise<void>) {
      return (event: FormEvent<HTMLFormElement>) => {
        event.preventDefault();
        const form = new FormData(event.currentTarget);
        setBusy(true);
        setProblem(undefined);
        act((name) => String(form.get(name) ?? ''))
          .catch((refusal: unknown) =>
            setProblem(
              refusal instanceof Refusal ? { words: refusal.message, field: refusal.field } : { words: 'That did not work. Try again.' },
            ),
          )
          .finally(() => setBusy(false));
      };
    },
  };
}

/** What is wrong beside all fields, said aloud. */
export function Wrong({ children }: { children: string | undefined }) {
  return (
    <p role="alert" className="text-bad empty:hidden">
      {children}
    </p>
  );
}

import { useState } from 'react';
import { Button } from '../kit/Button';
import { Failed } from '../kit/Notice';
import { PhraseMenu } from '../kit/PhraseMenu';
import { useDesk } from '../session/desk';
import { ReplayResult } from './ReplayResult';
import { useReplay } from './useReplay';

const PERIODS = [
  ['7', 'the last 7 days'],
  ['30', 'the last 30 days'],
  ['90', 'the last 90 days'],
] as const satisfies readonly (readonly [string, string])[];

/** The draft against the visits that were recorded: whom it would have reached, and what it would have displaced. */
export function ReplayPane({ calloutId, version, settle }: { calloutId: string; version: number; settle(): Promise<number> }) {
  const { site } = useDesk();
  const [days, setDays] = useState('30');
  const { replay, start, cancel } = useReplay(site.id, calloutId);

  return (
    <section aria-label="Replay" className="flex-none border-t border-strong pt-2 pb-4">
      <div className="flex flex-wrap items-center gap-x-2 gap-y-1">
        <h2 className="text-[15px] leading-6">Replay</h2>
        <span>
          as if it had run in <PhraseMenu facet="when" label="Period" value={days} choices={PERIODS} onChoose={setDays} />
        </span>
        <span className="ms-auto flex items-center gap-2">
          {replay.is === 'running' ? (
            <>
              <progress
                value={replay.line?.read ?? 0}
                max={Math.max(1, Number(replay.line?.of ?? 1))}
                className="w-28"
                aria-label="How far the replay is"
              />
              <Button onClick={cancel}>Stop</Button>
            </>
          ) : (
            <Button onClick={() => void start(Number(days), settle)}>{replay.is === 'done' ? 'Replay again' : 'Replay'}</Button>
          )}
        </span>
      </div>
      {replay.is === 'idle' && (
        <p className="text-soft">Plays this draft, among everything that is live, against every recorded visit of the period.</p>
      )}
      {replay.is === 'refused' && <Failed error={replay.error} />}
      {replay.is === 'done' && replay.line.failed && (
        <p role="alert" className="text-bad">
          {replay.line.failed}
        </p>
      )}
      {replay.is === 'done' && replay.version !== version && (
        <p role="status" className="text-warn">
          The draft has changed since. These are the figures of how it was.
        </p>
      )}
      {(replay.is === 'done' || (replay.is === 'running' && replay.line)) && replay.line && (
        <ReplayResult figures={replay.line.figures} isDone={replay.is === 'done'} />
      )}
    </section>
  );
}

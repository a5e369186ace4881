import { DropdownMenu } from 'radix-ui';
import { useRef, useState } from 'react';
import { Button } from '../kit/Button';
import { useDesk } from '../session/desk';
import { exportEvents, type LedgerFilter } from './api';

/** Takes what passes the filter out as a file, row by row, with how far it is and a way to stop. */
export function ExportMenu({ filter }: { filter: LedgerFilter }) {
  const { site } = useDesk();
  const [progress, setProgress] = useState<{ rows: number; of: number }>();
  const [error, setError] = useState<string>();
  const stop = useRef<AbortController>(undefined);

  async function take(format: 'csv' | 'ndjson') {
    stop.current = new AbortController();
    setError(undefined);
    setProgress({ rows: 0, of: 0 });
    try {
      const file = await exportEvents(site.id, format, filter, (rows, of) => setProgress({ rows, of }), stop.current.signal);
      const link = document.createElement('a');
      link.href = URL.createObjectURL(file);
      link.download = `events.${format}`;
      link.click();
      setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
    } catch (bad) {
      if (!stop.current.signal.aborted) setError(bad instanceof Error ? bad.message : 'The export broke off.');
    } finally {
      setProgress(undefined);
    }
  }

  if (progress)
    return (
      <span role="status" className="flex items-center gap-2">
        {progress.rows.toLocaleString('en-GB')} of {progress.of.toLocaleString('en-GB')}
        <progress value={progress.rows} max={progress.of || 1} className="w-20" aria-label="Export" />
        <Button onClick={() => stop.current?.abort()}>Stop</Button>
      </span>
    );
  return (
    <>
      {error && (
        <span role="alert" className="text-bad">
          {error}
        </span>
      )}
      <DropdownMenu.Root modal={false}>
        <DropdownMenu.Trigger asChild>
          <Button>Export</Button>
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content align="end" sideOffset={6} className="z-50 min-w-52 rounded border border-ink bg-sheet p-1 shadow-lg">
            {(['csv', 'ndjson'] as const).map((format) => (
              <DropdownMenu.Item
                key={format}
                className="flex min-h-8 cursor-pointer items-center rounded px-2 outline-none data-[highlighted]:bg-selectwash"
                onSelect={() => void take(format)}
              >
                {format === 'csv' ? 'What is listed, as CSV' : 'What is listed, as NDJSON'}
              </DropdownMenu.Item>
            ))}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    </>
  );
}

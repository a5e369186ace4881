import type { Change } from './changes';

/** What differs, part by part. */
export function ChangeList({ changes, none }: { changes: readonly Change[]; none: string }) {
  return (
    <ul className="grid gap-1">
      {changes.length === 0 && <li className="text-soft">{none}</li>}
      {changes.map(({ part, was, is }) => (
        <li key={part}>
          {was === undefined && is === undefined ? (
            `${part} changed.`
          ) : (
            <>
              <b>{part}:</b> {was && <del className="text-soft">{was}</del>} {is ? <ins className="no-underline">{is}</ins> : 'taken out'}
            </>
          )}
        </li>
      ))}
    </ul>
  );
}

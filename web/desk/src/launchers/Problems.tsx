import type { Launcher } from './api';

/** What stands in the way of a part, or is worth a look; under it. */
export function Problems({
  problems,
  of,
}: {
  problems: Launcher['problems'];
  /** Fields whose problems are meant, by what they begin with. */
  of: readonly string[];
}) {
  return problems
    .filter((p) => of.some((field) => p.field === field || p.field.startsWith(`${field}.`) || p.field.startsWith(`${field}[`)))
    .map((p) => (
      <p key={`${p.field}:${p.message}`} className={`text-[12px] leading-4 ${p.blocks ? 'text-bad' : 'text-warn'}`}>
        <b>{p.blocks ? 'Stops publishing:' : 'Worth a look:'}</b> {p.message}
      </p>
    ));
}

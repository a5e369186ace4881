import { Link } from '@tanstack/react-router';

const VIEWS = [
  ['/', 'Run sheet'],
  ['/rehearsal', 'Rehearsal'],
] as const;

/** The two views of the run sheet: every page group at once, or one visit from page to page. The open one heads the page. */
export function SheetViews({ open }: { open: (typeof VIEWS)[number][0] }) {
  return (
    <div role="group" aria-label="Views of the run sheet" className="flex flex-none overflow-hidden rounded border border-ink text-[15px]">
      {VIEWS.map(([to, words]) =>
        to === open ? (
          <h1 key={to} className="flex min-h-[30px] items-center bg-ink px-2.5 text-[15px] text-white max-sm:min-h-11">
            {words}
          </h1>
        ) : (
          <Link
            key={to}
            to={to}
            className="flex min-h-[30px] items-center bg-sheet px-2.5 font-display font-semibold hover:bg-sheet2 max-sm:min-h-11"
          >
            {words}
          </Link>
        ),
      )}
    </div>
  );
}

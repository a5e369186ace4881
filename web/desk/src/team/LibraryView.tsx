import { useQuery } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { type ReactNode, useState } from 'react';
import { groupsQuery, segmentsQuery } from '../catalogue/api';
import { careQuery } from '../catalogue/care';
import { picturesQuery } from '../catalogue/pictures';
import { UsedBy } from '../catalogue/UsedBy';
import { languageName } from '../kit/languages';
import { Failed, Waiting } from '../kit/Notice';
import { plural } from '../kit/plural';
import { useDesk } from '../session/desk';

const fits = (words: string, ...texts: string[]) =>
  words
    .toLowerCase()
    .split(/\s+/)
    .every((w) => texts.some((t) => t.toLowerCase().includes(w)));

/** What several things share, in one place, with where each is used. */
export function LibraryView() {
  const { site } = useDesk();
  const [words, setWords] = useState('');
  const segments = useQuery(segmentsQuery(site.id));
  const groups = useQuery(groupsQuery(site.id));
  const pictures = useQuery(picturesQuery(site.id, ''));
  const care = useQuery(careQuery(site.id));
  const all = [segments, groups, pictures, care];
  const failed = all.find((q) => q.isError);
  if (failed) return <Failed error={failed.error} again={() => void Promise.all(all.filter((q) => q.isError).map((q) => q.refetch()))} />;
  if (!segments.data || !groups.data || !pictures.data || !care.data) return <Waiting>Fetching what is shared</Waiting>;
  const own = pictures.data.filter((p) => p.id);
  const nouns = Object.entries(care.data.nouns).filter(([, noun]) => noun);
  return (
    <section aria-label="Library" className="grid content-start gap-5 p-4">
      <p className="font-display text-[16px] leading-[26px]">
        What is made once and used by many. As long as anything names a piece, it cannot be removed.
      </p>
      <input
        type="search"
        aria-label="Find in the library"
        placeholder="Find by name"
        value={words}
        onChange={(e) => setWords(e.currentTarget.value)}
        className="max-w-xs placeholder:text-soft"
      />
      <Shelf title="Segments" none="No segment is named yet." words={words}>
        {segments.data
          .filter((s) => fits(words, s.name))
          .map((s) => (
            <Piece key={s.id} uses={s.usedBy}>
              <Link to="/audience" search={{ view: 'segments', id: s.id }} className="font-semibold hover:underline">
                {s.name}
              </Link>
            </Piece>
          ))}
      </Shelf>
      <Shelf title="Page groups" none="No page group is named yet." words={words}>
        {groups.data
          .filter((g) => fits(words, g.name, ...g.includes))
          .map((g) => (
            <Piece key={g.id} uses={g.usedBy}>
              <Link to="/audience" search={{ view: 'groups', id: g.id }} className="font-semibold hover:underline">
                {g.name}
              </Link>
              <span className="block font-mono text-[12px] leading-4 text-soft">{g.includes.join(' ')}</span>
            </Piece>
          ))}
      </Shelf>
      <Shelf title="Pictures" none="No picture of your own is kept yet: callouts, launchers and the brand kit take them in." words={words}>
        {own
          .filter((p) => fits(words, p.name))
          .map((p) => (
            <Piece key={p.address} uses={p.usedBy}>
              <span className="flex items-center gap-3">
                <img src={p.address} alt="" loading="lazy" className="h-9 w-9 rounded border border-hair object-cover" />
                <span>
                  <span className="block font-semibold">{p.name}</span>
                  <span className="block text-[12px] leading-4 text-soft">
                    {p.width} by {p.height}
                    {p.isMoving && ', moving'}
                  </span>
                </span>
              </span>
            </Piece>
          ))}
      </Shelf>
      <Shelf title="Wordings" none="Nobody who is not named has a noun of your own yet: the supplied one stands." words={words}>
        {nouns
          .filter(([language, noun]) => fits(words, noun, languageName(language)))
          .map(([language, noun]) => (
            <li key={language} className="grid gap-x-6 border-t border-hair py-2 sm:grid-cols-2">
              <b className="font-semibold">{noun}</b>
              <span className="text-soft">wherever no name is known, in {languageName(language)}</span>
            </li>
          ))}
      </Shelf>
      <div className="grid gap-1">
        <h2 className="text-[15px] leading-6">Blocked words</h2>
        <p>
          {plural(care.data.words.added.length, 'word')} of your own, beside the supplied lists. They hold every event of the site and every
          text that a visitor writes.{' '}
          <Link to="/ledger" search={{ panel: 'care' }} className="text-cobalt hover:underline">
            See and change them
          </Link>
        </p>
      </div>
    </section>
  );
}

function Shelf({ title, none, words, children }: { title: string; none: string; words: string; children: readonly ReactNode[] }) {
  return (
    <div className="grid gap-1">
      <h2 className="text-[15px] leading-6">{title}</h2>
      {children.length === 0 ? <p className="text-soft">{words ? 'None fits what you look for.' : none}</p> : <ul>{children}</ul>}
    </div>
  );
}

function Piece({ uses, children }: { uses: Parameters<typeof UsedBy>[0]['uses']; children: ReactNode }) {
  return (
    <li className="grid gap-x-6 border-t border-hair py-2 sm:grid-cols-2">
      <div>{children}</div>
      <UsedBy uses={uses} />
    </li>
  );
}

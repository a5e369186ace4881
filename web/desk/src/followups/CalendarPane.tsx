import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { TextField } from '../kit/Field';
import { languageName } from '../kit/languages';
import { Failed } from '../kit/Notice';
import { PhraseMenu } from '../kit/PhraseMenu';
import { plural } from '../kit/plural';
import { clock, day } from '../kit/time';
import { useDesk } from '../session/desk';
import { calendarQuery, type FollowEnd, type FollowUp, followFiguresQuery } from './api';

const ENDS: readonly (readonly [FollowEnd, string])[] = [
  ['through', 'came to its end'],
  ['goal', 'did what it leads to'],
  ['talked', 'wrote in a talk'],
  ['withdrew', 'took it back'],
  ['unreachable', 'could not be reached'],
];

// With how to take it back, as it is sent.
const partWords = (parts: number) => (parts === 0 ? 'A text message without words yet' : `A text message in ${plural(parts, 'part')}`);

/** What an imagined person gets when, as a calendar; and why it is over for those who came in. */
export function CalendarPane({
  id,
  follow,
  languages,
  hasRun,
  onStep,
}: {
  id: string;
  follow: FollowUp;
  languages: readonly string[];
  /** Whether it was ever live. */
  hasRun: boolean;
  onStep(id: string): void;
}) {
  const { site } = useDesk();
  const [name, setName] = useState('Mira');
  const [language, setLanguage] = useState(site.language);
  const calendar = useQuery(calendarQuery(site.id, { followUp: follow, language, firstName: name }));
  const figures = useQuery({ ...followFiguresQuery(site.id, id), enabled: hasRun });
  const begins = calendar.data ? Date.parse(calendar.data.comesAt) : 0;
  return (
    <section aria-label="Rehearse it" className="grid content-start gap-4 p-4">
      <div className="grid gap-2">
        <h2 className="text-[15px] leading-6">What one who comes in now would get</h2>
        <p className="flex flex-wrap items-baseline gap-2">
          <TextField label="First name" value={name} maxLength={40} onText={setName} />
          <span>
            reads{' '}
            <PhraseMenu
              facet="who"
              label="Language"
              value={language}
              choices={[site.language, ...languages].map((l) => [l, languageName(l)] as const)}
              onChoose={setLanguage}
            />
          </span>
        </p>
        {calendar.isError && <Failed error={calendar.error} again={() => void calendar.refetch()} />}
        <ol className="border-t border-ink">
          {calendar.data?.gets.map((g) => (
            <li key={g.stepId} className="grid grid-cols-[104px_minmax(0,1fr)] gap-3 border-b border-hair py-2">
              <span>
                <b className="block font-semibold">{day(g.at)}</b>
                <span className="text-[12px] text-soft">
                  {clock(g.at)}, day {Math.floor((Date.parse(g.at) - begins) / 86_400_000) + 1}
                </span>
              </span>
              <button type="button" className="min-w-0 text-start" onClick={() => onStep(g.stepId)}>
                {g.mail ? (
                  <>
                    <b dir="auto" className="block font-semibold [overflow-wrap:anywhere]">
                      {g.kind === 'text' ? partWords(g.parts) : g.mail.subject || 'A mail without a subject yet'}
                    </b>
                    <span dir="auto" className="block pt-1 [overflow-wrap:anywhere] whitespace-pre-line">
                      {g.mail.paragraphs.join('\n\n')}
                    </span>
                    {g.mail.button && <span className="mt-1 inline-block border-b-2 border-ink font-semibold">{g.mail.button}</span>}
                  </>
                ) : g.kind === 'tell' ? (
                  <span>
                    a webhook is told{g.tag && ': '}
                    <b className="font-semibold">{g.tag}</b>
                  </span>
                ) : (
                  <span>
                    is tagged <b className="font-semibold">{g.tag || '…'}</b>
                  </span>
                )}
              </button>
            </li>
          ))}
        </ol>
        {calendar.data?.gets.length === 0 && <p className="text-soft">Nothing: it has no mail and no tag yet.</p>}
        <p className="text-[12px] leading-4 text-soft">
          For somebody who only reads, and gets no other follow-up. A day apart stands what all follow-ups together write.
        </p>
      </div>
      {figures.data && figures.data.came > 0 && (
        <div className="grid gap-1">
          <h2 className="text-[15px] leading-6">Who came in</h2>
          <p>
            {plural(figures.data.came, 'person', 'people')}, {figures.data.inside} in it now
          </p>
          <ul>
            {ENDS.map(([end, words]) => {
              const count = figures.data.ended[end] ?? 0;
              return (
                count > 0 && (
                  <li key={end} className="flex gap-3 border-t border-hair py-1">
                    <b className="w-10 text-end font-semibold">{count}</b> {words}
                  </li>
                )
              );
            })}
          </ul>
        </div>
      )}
      <div className="sr-only" role="status">
        {calendar.isFetching ? 'Rehearsing' : ''}
      </div>
    </section>
  );
}

import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useState } from 'react';
import type { Schema } from '../data/api';
import { say } from '../data/toasts';
import { Button } from '../kit/Button';
import { languageName } from '../kit/languages';
import { Failed, Waiting } from '../kit/Notice';
import { Panel, Refused, Section } from '../kit/Panel';
import { plural } from '../kit/plural';
import { clock, day } from '../kit/time';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { eraseLead, type LeadDetail, leadQuery, withdrawLead } from './api';
import { StateMark } from './StateMark';

const at = (instant: string) => `${day(instant)}, ${clock(instant)}`;

/** One lead: answers and their history, promises word for word, talks, events, erase. */
export function LeadPanel({ leadId, onClose }: { leadId: string; onClose(): void }) {
  const { site, member } = useDesk();
  const queries = useQueryClient();
  const lead = useQuery(leadQuery(site.id, leadId));
  const [asks, setAsks] = useState(false);
  const withdraw = useMutation({
    mutationFn: () => withdrawLead(site.id, leadId),
    onSuccess: (next) => {
      queries.setQueryData(leadQuery(site.id, leadId).queryKey, next);
      void queries.invalidateQueries({ queryKey: ['leads'] });
      say('Taken back. Nothing more is sent to them.');
    },
  });
  const erase = useMutation({
    mutationFn: () => eraseLead(site.id, leadId),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ['leads'] });
      say('The lead is erased for good.');
      onClose();
    },
  });
  const data = lead.data;
  return (
    <Panel label="Lead" title={data ? (data.lead.email ?? data.lead.phone ?? (data.lead.name || 'A lead')) : 'Lead'} onClose={onClose}>
      {lead.isError ? (
        <Failed error={lead.error} again={() => void lead.refetch()} />
      ) : !data ? (
        <Waiting>Fetching the lead</Waiting>
      ) : (
        <>
          <Section>
            <p>
              <StateMark state={data.lead.state} />
            </p>
            <Times data={data} />
            <dl className="grid grid-cols-[104px_minmax(0,1fr)] gap-x-3 gap-y-1">
              {Object.entries(data.answers).map(([key, value]) => (
                <div key={key} className="contents">
                  <dt className="truncate text-soft">{key}</dt>
                  <dd className="whitespace-pre-line [overflow-wrap:anywhere]">{value}</dd>
                </div>
              ))}
            </dl>
            {data.lead.tags.length > 0 && <p className="text-soft">Tagged {data.lead.tags.join(', ')}</p>}
          </Section>
          <Section
            title={
              data.yeses.length === 1 ? 'The yes' : `${plural(data.yeses.length, 'yes')}, the latest first`.replace('yess', 'times yes')
            }
          >
            <ol className="grid gap-3">
              {data.yeses.map((yes) => (
                <li key={yes.id} className="border-t border-hair pt-2">
                  <p>
                    <Link
                      to="/callouts/$calloutId"
                      params={{ calloutId: yes.calloutId }}
                      className="font-semibold text-cobalt hover:underline"
                    >
                      {yes.name}
                    </Link>
                    <span className="text-soft">
                      , revision {yes.revision}, {at(yes.at)}
                    </span>
                  </p>
                  {yes.promise && (
                    <blockquote className="my-1 border-s-2 border-often-deep ps-2" dir="auto">
                      “{yes.promise}”
                      <span className="block text-[12px] leading-4 text-soft">
                        wording {yes.promiseNumber}, {languageName(yes.language)},{' '}
                        {yes.ticked ? 'box ticked by hand' : 'by the button under it'}
                      </span>
                    </blockquote>
                  )}
                  <p className="text-[12px] leading-4 text-soft [overflow-wrap:anywhere]">
                    On {yes.page}
                    {yes.askedAt.length > 0 && `; asked to confirm ${(yes.askedAt as string[]).map(at).join(' and ')}`}
                    {yes.confirmedAt && `; confirmed ${at(yes.confirmedAt)}`}
                    {yes.code && `; given the code ${yes.code}`}
                  </p>
                </li>
              ))}
            </ol>
          </Section>
          {data.mails.length > 0 && (
            <Section title="Written to them">
              <ul>
                {data.mails.map((mail) => (
                  <li key={mail.id} className="border-t border-hair py-1">
                    <span className="flex gap-2">
                      <span className="min-w-0 flex-1 truncate" dir="auto">
                        {mail.isText && <span className="text-soft">Text message: </span>}
                        {mail.subject}
                      </span>
                      <span className="text-soft">{at(mail.at)}</span>
                    </span>
                    <span className={`block text-[12px] leading-4 ${LOST.includes(mail.state) ? 'text-warn' : 'text-soft'}`}>
                      {SENT[mail.state]}
                      {mail.state !== 'waiting' && mail.state !== 'taken' && ` ${at(mail.changedAt)}`}
                    </span>
                  </li>
                ))}
              </ul>
              <p className="text-[12px] leading-4 text-soft">Whether they are read is not looked at.</p>
            </Section>
          )}
          {data.talks.length > 0 && (
            <Section title="Talks">
              <ul>
                {data.talks.map((talk) => (
                  <li key={talk.id} className="flex gap-2 border-t border-hair py-1">
                    <Link
                      to="/inbox"
                      search={{ queue: 'all', talk: talk.id }}
                      className="min-w-0 flex-1 truncate text-cobalt hover:underline"
                    >
                      {talk.glimpse || 'A talk'}
                    </Link>
                    <span className="text-soft">{day(talk.lastAt)}</span>
                  </li>
                ))}
              </ul>
            </Section>
          )}
          <Section>
            <p className="text-soft">
              {data.events === 0 ? 'No event of theirs is in the ledger.' : `${plural(data.events, 'event')} of theirs in the ledger.`}
            </p>
            <div className="flex flex-wrap gap-2">
              {data.lead.state !== 'withdrawn' && (
                <Button disabled={withdraw.isPending} onClick={() => withdraw.mutate()}>
                  Take it back for them
                </Button>
              )}
              {mayAct(member, 'govern') &&
                (asks ? (
                  <>
                    <Button kind="danger" disabled={erase.isPending} onClick={() => erase.mutate()}>
                      Erase this lead for good
                    </Button>
                    <Button onClick={() => setAsks(false)}>Keep it</Button>
                  </>
                ) : (
                  <Button onClick={() => setAsks(true)}>Erase</Button>
                ))}
            </div>
            <Refused error={withdraw.error ?? erase.error} />
          </Section>
        </>
      )}
    </Panel>
  );
}

/** What became of a mail or a text message. */
const SENT: Record<Schema<'SentState'>, string> = {
  waiting: 'waits for a server to take it',
  taken: 'taken by the server',
  refused: 'refused: nobody is there',
  cameBack: 'came back: nobody is there',
  notSent: 'not sent any more',
};
const LOST: readonly Schema<'SentState'>[] = ['refused', 'cameBack'];

function Times({ data }: { data: LeadDetail }) {
  const times = [
    ['said yes', data.lead.gaveAt],
    ['confirmed', data.confirmedAt],
    ['took it back', data.withdrawnAt],
    ['mails came back', data.unreachableAt],
  ] as const;
  return (
    <p className="text-[12px] leading-4 text-soft">
      {times
        .filter(([, when]) => when)
        .map(([what, when]) => `${what} ${at(when as string)}`)
        .join('; ')}
    </p>
  );
}

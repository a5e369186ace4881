import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link, useNavigate } from '@tanstack/react-router';
import { VisitorLine } from '../audience/VisitorLine';
import { Button } from '../kit/Button';
import { TextField } from '../kit/Field';
import { languageName } from '../kit/languages';
import { Refused, Section } from '../kit/Panel';
import { clock, day, pageClock } from '../kit/time';
import { useNow } from '../kit/useNow';
import { useDesk } from '../session/desk';
import { callOffBooking, mergeTalk, nameVisitor, ofVisitorQuery, type TalkDetail, tagTalk, talkQuery, whoQuery } from './api';

/** Other talks of the same browser: to be looked at, or to be gone on with. */
function OtherTalks({ talk }: { talk: TalkDetail['talk'] }) {
  const { site } = useDesk();
  const queries = useQueryClient();
  const navigate = useNavigate({ from: '/inbox' });
  const talks = useQuery(ofVisitorQuery(site.id, talk.visitorId));
  const merge = useMutation({
    mutationFn: (into: string) => mergeTalk(site.id, talk.id, into),
    onSuccess: (next) => {
      queries.setQueryData(talkQuery(site.id, next.talk.id).queryKey, next);
      for (const key of ['talks', 'talk', 'talk-counts']) void queries.invalidateQueries({ queryKey: [key] });
      void navigate({ search: (before) => ({ ...before, talk: next.talk.id }) });
    },
  });
  const others = talks.data?.talks.filter((t) => t.id !== talk.id) ?? [];
  if (others.length === 0) return null;
  return (
    <Section title="Other talks of this browser">
      <ul>
        {others.slice(0, 8).map((other) => (
          <li key={other.id} className="border-t border-hair py-1">
            <Link to="/inbox" search={{ queue: 'all', talk: other.id }} className="block truncate text-cobalt hover:underline">
              {other.glimpse || other.launcher}
            </Link>
            <span className="flex gap-2 text-[12px] text-soft">
              {day(other.lastAt)}, {other.state === 'closed' ? 'closed' : 'open'}
              {talk.state !== 'closed' && (
                <Button kind="link" className="ms-auto" disabled={merge.isPending} onClick={() => merge.mutate(other.id)}>
                  Put this talk in there
                </Button>
              )}
            </span>
          </li>
        ))}
      </ul>
      <Refused error={merge.error} />
    </Section>
  );
}

/** Whom one talks with, from what Outcry knows: this visit, segments, what they were shown and did. Nobody's name but the one they gave. */
export function ContextPane({ detail }: { detail: TalkDetail }) {
  const { site } = useDesk();
  const { talk } = detail;
  const now = useNow(30_000);
  const queries = useQueryClient();
  const history = useQuery(whoQuery(site.id, talk.visitorId));
  const put = useMutation({
    mutationFn: (run: () => Promise<TalkDetail>) => run(),
    onSuccess: (next) => {
      queries.setQueryData(talkQuery(site.id, talk.id).queryKey, next);
      void queries.invalidateQueries({ queryKey: ['talks'] });
    },
  });
  const data = history.data;
  const visit = data?.visits[0];
  return (
    <aside aria-label="Who this is" className="w-[320px] flex-none overflow-auto border-s border-ink bg-sheet2 max-xl:hidden" tabIndex={0}>
      <Section>
        <TextField
          key={`${talk.id} ${talk.title}`}
          label="Name"
          defaultValue={talk.title.startsWith('Visitor from ') || talk.title === 'A visitor' ? '' : talk.title}
          placeholder={talk.title}
          maxLength={80}
          onBlur={(e) => {
            const typed = e.currentTarget.value.trim();
            if (typed !== e.currentTarget.defaultValue) put.mutate(() => nameVisitor(site.id, talk.id, typed));
          }}
        />
        <dl className="grid grid-cols-[72px_minmax(0,1fr)] gap-x-3 gap-y-1">
          <dt className="text-soft">e-mail</dt>
          <dd className="truncate">{detail.email ?? 'not left'}</dd>
          {detail.agreedAt && (
            <>
              <dt className="text-soft">consent</dt>
              <dd>
                {day(detail.agreedAt)}, {clock(detail.agreedAt)}
              </dd>
            </>
          )}
          <dt className="text-soft">reads</dt>
          <dd>{languageName(talk.language)}</dd>
        </dl>
        <TextField
          key={`${talk.id} tags ${talk.tags.join()}`}
          label="Tags"
          hint="With commas between"
          defaultValue={talk.tags.join(', ')}
          onBlur={(e) => {
            if (e.currentTarget.value !== e.currentTarget.defaultValue) {
              const tags = e.currentTarget.value
                .split(',')
                .map((t) => t.trim())
                .filter(Boolean);
              put.mutate(() => tagTalk(site.id, talk.id, tags));
            }
          }}
        />
        <Refused error={put.error} />
      </Section>
      {detail.booking && (
        <Section title="Booked">
          <p>
            <b className="font-semibold">
              {day(detail.booking.startsAt)}, {clock(detail.booking.startsAt)}
            </b>
            , {detail.booking.minutes} minutes
          </p>
          <p className="text-soft">{detail.booking.title}</p>
          <p className="flex flex-wrap items-baseline gap-3 text-[12px]">
            {detail.booking.invitedAt
              ? `Invited ${day(detail.booking.invitedAt)}, ${clock(detail.booking.invitedAt)}`
              : 'Held for an hour: no address was left yet.'}
            <Button
              kind="link"
              className="ms-auto"
              disabled={put.isPending}
              onClick={() => put.mutate(() => callOffBooking(site.id, talk.id))}
            >
              Call it off
            </Button>
          </p>
        </Section>
      )}
      {Object.keys(detail.kept).length > 0 && (
        <Section title="Kept by the script">
          <dl className="grid grid-cols-[96px_minmax(0,1fr)] gap-x-3 gap-y-1">
            {Object.entries(detail.kept).map(([field, answer]) => (
              <div key={field} className="contents">
                <dt className="truncate text-soft">{field}</dt>
                <dd className="[overflow-wrap:anywhere]">
                  {answer.isUnderstood ? (
                    <b className="font-semibold">{answer.value}</b>
                  ) : (
                    <span className="text-soft">not understood</span>
                  )}
                  {answer.said !== answer.value && <span className="ms-1 text-soft">“{answer.said}”</span>}
                </dd>
              </div>
            ))}
          </dl>
        </Section>
      )}
      {data && (
        <>
          <Section title="This visit">
            <p>
              <VisitorLine visitor={data.visitor} now={now} />
            </p>
            <ol>
              {visit?.pages.slice(-6).map((p) => (
                <li key={`${p.at}:${p.path}`} className="flex items-baseline gap-3 border-t border-hair py-1">
                  <span className="w-10 flex-none text-soft">{clock(p.at)}</span>
                  <code className="min-w-0 flex-1 truncate font-mono text-[12.5px]">{p.path}</code>
                  <span className="text-soft">{p.stayMs > 0 ? pageClock(p.stayMs) : 'now'}</span>
                </li>
              ))}
            </ol>
          </Section>
          {data.segments.length > 0 && (
            <Section title="Segments">
              <p className="flex flex-wrap gap-2">
                {data.segments.map((name) => (
                  <span key={name} className="border-b-2 border-[#1f7a4c] bg-[#d3efdd] px-1.5">
                    {name}
                  </span>
                ))}
              </p>
            </Section>
          )}
          {data.met.length > 0 && (
            <Section title="What they were shown">
              <ul>
                {data.met.map((m) => (
                  <li key={m.calloutId} className="flex gap-2 border-t border-hair py-1">
                    <span className="min-w-0 flex-1 truncate">{m.name}</span>
                    <span className="text-soft">{m.clickedAt ? 'clicked' : m.closedAt ? 'closed' : 'seen'}</span>
                  </li>
                ))}
              </ul>
            </Section>
          )}
          {data.did.length > 0 && (
            <Section title="What they did">
              <ul>
                {data.did.slice(0, 8).map((d) => (
                  <li key={d.eventId} className="flex gap-2 border-t border-hair py-1">
                    <Link
                      to="/ledger"
                      search={{ panel: 'event', event: d.eventId }}
                      className="min-w-0 flex-1 truncate text-cobalt hover:underline"
                    >
                      {d.kind}
                      {d.about && `, ${d.about}`}
                    </Link>
                    <span className="text-soft">{day(d.at)}</span>
                  </li>
                ))}
              </ul>
            </Section>
          )}
        </>
      )}
      <OtherTalks talk={talk} />
      <Refused error={history.error} />
      {data === null && (
        <Section>
          <p className="text-soft">Nothing more is recorded of this visit yet.</p>
        </Section>
      )}
    </aside>
  );
}

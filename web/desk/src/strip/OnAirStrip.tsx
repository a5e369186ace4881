import { useQuery } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { Refusal } from '../data/api';
import { usePeople } from '../data/people';
import { ago } from '../kit/time';
import { useNow } from '../kit/useNow';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { AirSwitch } from './AirSwitch';
import { stripQuery } from './api';

/** Always there: whether the site is on air, when the snippet was heard, who is here, what came in last. */
export function OnAirStrip({ siteId }: { siteId: string }) {
  const { data, error } = useQuery(stripQuery(siteId));
  const now = useNow();
  const { member } = useDesk();
  const people = usePeople();
  // The figures lag by seconds; whoever looks knows that they are there themselves.
  const own = people.all.filter((p) => p.memberId === member.id);
  const isHere = mayAct(member, 'answer') && (own.length === 0 || own.some((p) => !p.isAway));
  const others = (data?.answering ?? []).filter((name) => name !== member.name);
  const answering = isHere ? [member.name, ...others] : others;
  return (
    <footer className="flex h-8 flex-none items-center gap-4 overflow-hidden bg-ink px-4 text-[12px] whitespace-nowrap text-[#c9cdc4] max-sm:gap-3">
      {error && (
        <span role="alert" className="flex items-center gap-2 font-semibold text-[#ff9d8c]">
          {error instanceof Refusal && error.status === 503
            ? 'The database does not answer. Visitors are served from memory; what is sent now is refused and sent again.'
            : 'The desk is not reachable. It asks again by itself.'}
        </span>
      )}
      {data && !error && (
        <>
          <AirSwitch siteId={siteId} strip={data} />
          <Divider />
          {data.offAir && data.switchedBy && data.switchedAt && (
            <>
              <span>
                by <b className="text-white">{data.switchedBy}</b>, {ago(data.switchedAt, now)}: visitors see nothing
              </span>
              <Divider />
            </>
          )}
          <span>
            {data.heardAt ? (
              <>
                Snippet heard <b className="text-white">{ago(data.heardAt, now)}</b>
              </>
            ) : (
              <Link to="/install" className="underline">
                Snippet not heard yet
              </Link>
            )}
          </span>
          <Divider />
          <span>
            <b className="text-white">{data.visitorsNow}</b> {data.visitorsNow === 1 ? 'visitor' : 'visitors'} now
          </span>
          <Divider />
          <span className="max-sm:hidden">
            <b className="text-white">{data.calloutsLive}</b> {data.calloutsLive === 1 ? 'callout' : 'callouts'} live
            {data.calloutsScheduled > 0 && `, ${data.calloutsScheduled} scheduled`}
          </span>
          <Divider />
          {data.waitLong > 0 ? (
            <Link to="/inbox" search={{ queue: 'unclaimed' }} className="font-semibold text-[#ffd27a] underline">
              {data.waitLong} {data.waitLong === 1 ? 'visitor waits' : 'visitors wait'} too long
            </Link>
          ) : (
            <span className="max-md:hidden">
              {answering.length > 0 ? (
                <>
                  <b className="text-white">{firstNames(answering)}</b> {answering.length === 1 ? 'answers' : 'answer'}
                </>
              ) : (
                'Nobody here to answer'
              )}
            </span>
          )}
          {data.lastEvent && data.lastEventAt && (
            <>
              <Divider />
              <span className="overflow-hidden text-ellipsis max-sm:hidden">
                Last event <b className="text-white">{data.lastEvent}</b> {ago(data.lastEventAt, now)}
              </span>
            </>
          )}
        </>
      )}
    </footer>
  );
}

/** "Marta, Jonas and 2 more". */
function firstNames(names: readonly string[]): string {
  const first = names.map((name) => name.split(' ')[0] ?? name);
  return first.length > 3 ? `${first.slice(0, 2).join(', ')} and ${first.length - 2} more` : first.join(', ');
}

const Divider = () => <span className="h-4 w-px flex-none bg-[#4a4f59] max-sm:hidden" aria-hidden="true" />;

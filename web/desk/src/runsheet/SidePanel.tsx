import { useQuery } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { BriefLine } from '../brief/BriefLine';
import { calloutQuery } from '../callouts/api';
import { useGreeting } from '../callouts/greetings';
import { ControlLink } from '../callouts/ReasonLine';
import { Button } from '../kit/Button';
import { Fetched } from '../kit/Notice';
import { Panel, Refused } from '../kit/Panel';
import { plural } from '../kit/plural';
import { StateSign } from '../kit/StateSign';
import { pageClock } from '../kit/time';
import { useDesk } from '../session/desk';
import { plannedPage, trimmed, type Visitor } from '../visits/model';
import { useTrial } from '../visits/useTrial';
import { type Difference, type Lane, laneQuery, type Mend, type NotShown, type SheetSearch, shareWords } from './api';
import { ClashPicture } from './ClashPicture';

/** Beside the lanes: one block or one lane, with what is not shown there, why, and what would end a clash. */
export function SidePanel({
  lane,
  block,
  search,
  who,
  onTry,
  onClose,
}: {
  lane: Lane;
  block: string | undefined;
  search: SheetSearch;
  who: Visitor;
  onTry(trying: string): void;
  onClose(): void;
}) {
  const { site } = useDesk();
  const detail = useQuery(laneQuery(site.id, lane.groupId, search));
  const trial = useTrial();
  const shown = [...lane.showings, ...lane.leaving].find((s) => s.calloutId === block);
  const from = shown ? Math.max(30, Math.ceil(shown.endMs / 1000)) : 120;
  return (
    <Panel
      label={block ? 'The chosen callout' : `On ${lane.name}`}
      title={block ? <BlockTitle calloutId={block} /> : lane.name}
      onClose={onClose}
      foot={
        <>
          {block && (
            <Link
              to="/callouts/$calloutId"
              params={{ calloutId: block }}
              className="inline-flex min-h-8 flex-1 items-center justify-center rounded border border-ink bg-ink px-3 font-semibold whitespace-nowrap text-white"
            >
              Open brief
            </Link>
          )}
          <Link
            to="/rehearsal"
            search={{ visitor: trimmed(who), pages: [{ ...plannedPage(lane.path, from), leaves: !block }] }}
            className="inline-flex min-h-8 flex-1 items-center justify-center rounded border border-ink bg-sheet px-3 font-semibold whitespace-nowrap"
          >
            Rehearse {shown ? `to ${pageClock(from * 1000)}` : 'here'}
          </Link>
          <Button className="flex-1" disabled={trial.isPending} onClick={() => trial.mutate({ path: lane.path, visitor: trimmed(who) })}>
            Start a trial visit
          </Button>
          <Refused error={trial.error} />
        </>
      }
    >
      {/* Of what is not shown here the reason is what one came for; of what is shown, the brief. */}
      {block && shown && <ChosenBlock lane={lane} calloutId={block} />}
      {!block && <ChosenLane lane={lane} who={who} />}
      {detail.data ? (
        <NotShownHere
          notShown={detail.data.notShown}
          mends={detail.data.mends.flatMap((m) => m.mends.map((mend) => ({ for: m.calloutId, mend })))}
          block={block}
          onTry={onTry}
        />
      ) : (
        <p className="border-t border-ink p-4 text-soft">Asking why the rest is not shown</p>
      )}
      {block && !shown && (
        <div className="border-t border-ink">
          <ChosenBlock lane={lane} calloutId={block} />
        </div>
      )}
    </Panel>
  );
}

/** Where other pages of the lane come to something else than the busiest, each leading to its own rehearsal. */
function Differences({ lane, who }: { lane: Lane; who: Visitor }) {
  return (
    <div className="mt-3 border-t border-hair pt-2">
      <h3 className="font-sans text-[13px] font-semibold tracking-normal">Where its pages differ</h3>
      <ul>
        {lane.differs.map((d) => (
          <li key={d.path} className="border-t border-hair py-1.5 first:border-t-0">
            <Link
              to="/rehearsal"
              search={{ visitor: trimmed(who), pages: [{ ...plannedPage(d.path, 120), leaves: true }] }}
              className="font-mono text-[12.5px] text-cobalt hover:underline"
            >
              {d.path}
            </Link>
            {d.pages > 1 && <span className="text-soft"> and {plural(d.pages - 1, 'page')} like it</span>}
            <span className="block text-[12px] leading-4 text-soft">{differenceWords(d)}</span>
          </li>
        ))}
      </ul>
    </div>
  );
}

const differenceWords = (d: Difference) =>
  d.quietBy
    ? `Quiet by house rule: ${d.quietBy}.`
    : d.showings.length === 0
      ? 'A visitor meets nothing there.'
      : `${d.showings.map((s) => `${s.name} at ${pageClock(s.startMs)}`).join(', ')}.`;

function BlockTitle({ calloutId }: { calloutId: string }) {
  const { site } = useDesk();
  const greeting = useGreeting(calloutId);
  const { data } = useQuery({ ...calloutQuery(site.id, calloutId), enabled: greeting === null });
  if (greeting) return greeting.name;
  if (!data) return 'A callout';
  return (
    <>
      {data.name}
      <span className="block font-sans text-[12px] leading-4 font-normal tracking-normal text-soft">
        <StateSign state={data.stands} />, revision {data.revision}
      </span>
    </>
  );
}

function ChosenBlock({ lane, calloutId }: { lane: Lane; calloutId: string }) {
  const { site } = useDesk();
  const greeting = useGreeting(calloutId);
  const query = useQuery({ ...calloutQuery(site.id, calloutId), enabled: greeting === null });
  const callout = query.data;
  const shown = [...lane.showings, ...lane.leaving].filter((s) => s.calloutId === calloutId);
  const first = shown[0];
  const share = first && lane.stillThere[Math.min(24, Math.floor(first.startMs / 5_000))];
  if (!callout && !greeting)
    return (
      <Fetched query={query} waiting="Fetching the brief">
        {() => null}
      </Fetched>
    );
  return (
    <section className="px-4 py-3">
      {first && (
        <dl className="mb-3 flex gap-5 border-b border-hair py-2">
          <Figure value={pageClock(first.startMs)} words="appears" />
          <Figure
            value={`${Math.round((first.endMs - first.startMs) / 1000)} s`}
            words={first.endedBy === 'closed' ? 'until it is closed' : 'stays'}
          />
          {share !== undefined && share > 0 && <Figure value={`${Math.round(share * 100)} %`} words="still here to see it" />}
        </dl>
      )}
      {first && <p className="my-3 text-soft">Would say: {first.says}</p>}
      {first && first.sharePercent !== null && (
        <p className="my-3 text-soft">
          Shown to {shareWords(first.sharePercent)} of visitors; the rest are held back to measure its effect.
        </p>
      )}
      {first?.placeUnknown && (
        <p className="my-3 text-warn">No visitor’s browser has said yet whether its place is on this page; it stands here as if it were.</p>
      )}
      {greeting && <p className="my-3">It is a greeting: what is said of it in full stands on the ladder of its launcher.</p>}
      {callout && <BriefLine brief={callout.live ?? callout.draft} className="font-display text-[15px] leading-[26px]" />}
    </section>
  );
}

function Figure({ value, words }: { value: string; words: string }) {
  return (
    <div>
      <dd className="font-display text-[18px] leading-6 font-semibold">{value}</dd>
      <dt className="text-[12px] leading-4 text-soft">{words}</dt>
    </div>
  );
}

function ChosenLane({ lane, who }: { lane: Lane; who: Visitor }) {
  const shown = [...lane.showings, ...lane.leaving];
  return (
    <section className="p-4 pb-3">
      <p className="text-soft">
        Rehearsed on <code className="font-mono text-[12.5px]">{lane.path}</code>, its busiest page
      </p>
      {shown.length === 0 && <p className="mt-3">A visitor meets nothing here.</p>}
      {lane.differs.length > 0 && <Differences lane={lane} who={who} />}
      <ol className="mt-3">
        {shown.map((s) => (
          <li key={`${s.calloutId}:${s.turn}:${s.startMs}`} className="flex gap-3 border-t border-hair py-1.5">
            <span className="w-9 flex-none font-semibold">{pageClock(s.startMs)}</span>
            <span>{s.says}</span>
          </li>
        ))}
      </ol>
    </section>
  );
}

function NotShownHere({
  notShown,
  mends,
  block,
  onTry,
}: {
  notShown: NotShown[];
  mends: { for: string; mend: Mend }[];
  block: string | undefined;
  onTry(trying: string): void;
}) {
  // The chosen block's own reason comes first; further turns only tell of themselves.
  const firsts = notShown.filter((n) => n.turn === 0 || n.isClash);
  const sorted = [...firsts].sort(
    (a, b) =>
      Number(b.calloutId === block) - Number(a.calloutId === block) ||
      Number(b.isClash && b.turn === 0) - Number(a.isClash && a.turn === 0),
  );
  if (sorted.length === 0) return null;
  return (
    <section className="border-t border-ink">
      <h3 className="bg-paper px-4 py-2 font-sans text-[13px] leading-5 tracking-normal">
        Not shown here <span className="font-normal text-soft">{sorted.length}</span>
      </h3>
      <ul>
        {sorted.map((n) => (
          <Missing
            key={`${n.calloutId}:${n.turn}`}
            notShown={n}
            mends={n.turn === 0 ? mends.filter((m) => m.for === n.calloutId).map((m) => m.mend) : []}
            onTry={onTry}
          />
        ))}
      </ul>
    </section>
  );
}

function Missing({ notShown, mends, onTry }: { notShown: NotShown; mends: Mend[]; onTry(trying: string): void }) {
  return (
    <li className={`grid gap-1 border-t border-hair px-4 py-2.5 ${notShown.isClash ? 'border-s-[3px] border-s-bad bg-sheet' : ''}`}>
      <Link to="/callouts/$calloutId" params={{ calloutId: notShown.calloutId }} className="font-semibold hover:underline">
        {notShown.isClash && <span className="text-bad">✕ </span>}
        {notShown.name}
        {notShown.turn > 0 && `, turn ${notShown.turn + 1}`}
      </Link>
      <p className="text-[12px] leading-4 text-soft">{notShown.sentence}</p>
      {notShown.reason.kind === 'noFreeSlot' && <ClashPicture reason={notShown.reason} />}
      {mends.length > 0 ? (
        <ul className="mt-1 grid gap-2">
          {mends.map((mend) => (
            <li key={mend.trying} className="grid gap-0.5">
              <Button className="justify-self-start !whitespace-normal !text-start leading-4" onClick={() => onTry(mend.trying)}>
                {mend.sentence}
              </Button>
              {mend.warnings.map((w) => (
                <span key={w} className="text-[12px] leading-4 text-warn">
                  {w}
                </span>
              ))}
              <span className="text-[12px] leading-4 text-soft">
                {mend.effects.length > 0 ? `${mend.effects.join('; ')}.` : 'Nothing else changes.'}
              </span>
            </li>
          ))}
        </ul>
      ) : (
        !notShown.isClash && <ControlLink place={notShown.control} calloutId={notShown.calloutId} />
      )}
    </li>
  );
}

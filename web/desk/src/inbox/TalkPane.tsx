import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Lock, Paperclip } from 'lucide-react';
import { type Ref, useEffect, useLayoutEffect, useRef, useState } from 'react';
import { useTyping } from '../data/typing';
import { Button } from '../kit/Button';
import { Refused } from '../kit/Panel';
import { clock, day } from '../kit/time';
import { useDesk } from '../session/desk';
import { Face } from '../team/Face';
import { earlierWords, seeTalk, type TalkDetail, type TalkWord, talkQuery } from './api';
import { ReplyBox, type ReplyHandle } from './ReplyBox';
import { TalkActs } from './TalkActs';

/** One talk: what was said by whom, and where one answers. */
export function TalkPane({ detail, reply, onBack }: { detail: TalkDetail; reply: Ref<ReplyHandle>; onBack(): void }) {
  const { site } = useDesk();
  const { talk, words } = detail;
  const queries = useQueryClient();
  const typing = useTyping(talk.id);
  const end = useRef<HTMLDivElement>(null);
  const last = words.at(-1)?.number ?? 0;
  const [earlier, setEarlier] = useState<readonly TalkWord[]>([]);
  const before = earlier[0]?.number ?? words[0]?.number ?? 1;
  const fetchEarlier = useMutation({
    mutationFn: () => earlierWords(site.id, talk.id, before),
    onSuccess: (found) => setEarlier([...found.words, ...earlier]),
  });
  // What is on the screen of somebody who looks has been seen.
  useEffect(() => {
    if (last === 0) return;
    const see = () => {
      if (!document.hidden) void seeTalk(site.id, talk.id, last).then(() => queries.invalidateQueries({ queryKey: ['talk-counts'] }));
    };
    see();
    document.addEventListener('visibilitychange', see);
    return () => document.removeEventListener('visibilitychange', see);
  }, [site.id, talk.id, last, queries]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the newest word comes into sight with each that comes.
  useLayoutEffect(() => {
    // Its result must not be returned: newer browsers give a promise, which is no clean-up.
    end.current?.scrollIntoView({ block: 'end' });
  }, [talk.id, last]);
  return (
    <section aria-label={`Talk with ${talk.title}`} className="flex min-w-0 flex-1 flex-col bg-sheet">
      <header className="flex min-h-[52px] flex-none flex-wrap items-center gap-x-3 gap-y-1 border-b border-ink px-6 py-2 max-sm:px-3">
        <Button className="md:hidden" onClick={onBack}>
          Back
        </Button>
        <div className="min-w-0 flex-1">
          <h2 className="truncate font-sans text-[15px] leading-5 font-semibold tracking-normal">{talk.title}</h2>
          <p className="truncate text-[12px] leading-4 text-soft" role="status">
            {talk.launcher || 'A talk'} from <span className="font-mono">{pathOf(talk.page)}</span>
            {typing.visitor ? ', is writing' : detail.isThere ? ', has it open' : ''}
            {talk.isTest && ', a try of your own'}
          </p>
        </div>
        <TalkActs talk={talk} />
      </header>
      <div className="min-h-0 flex-1 overflow-auto" role="log" aria-label="What was said" tabIndex={0}>
        {before > 1 && (
          <p className="p-3 text-center">
            <Button disabled={fetchEarlier.isPending} onClick={() => fetchEarlier.mutate()}>
              What was said before
            </Button>
            <Refused error={fetchEarlier.error} />
          </p>
        )}
        {detail.beforeId && before === 1 && <Went beforeId={detail.beforeId} />}
        {detail.greeting && before === 1 && (
          <p className="border-b border-hair px-6 py-2 text-soft max-sm:px-3">
            After the greeting <span className="phrase !bg-[#fdeb9c]">{detail.greeting}</span>
          </p>
        )}
        {[...earlier, ...words].map((word) => (
          <Word
            key={word.number}
            word={word}
            visitor={talk.title}
            seen={word.by === 'member' && word.for === 'both' && word.number <= detail.seenByVisitor}
          />
        ))}
        <div ref={end} />
      </div>
      {talk.isBlocked ? (
        <p className="border-t border-ink p-4 text-soft">This visitor is blocked and is not told. Nothing they write is heard.</p>
      ) : (
        <ReplyBox key={talk.id} detail={detail} ref={reply} />
      )}
    </section>
  );
}

function pathOf(page: string): string {
  try {
    return new URL(page).pathname;
  } catch {
    return page;
  }
}

/** The talk that this one goes on from. */
function Went({ beforeId }: { beforeId: string }) {
  const { site } = useDesk();
  const before = useQuery(talkQuery(site.id, beforeId));
  return before.data ? (
    <p className="border-b border-hair px-6 py-2 text-soft max-sm:px-3">
      Goes on from a talk of {day(before.data.talk.lastAt)} that ended with “{before.data.talk.glimpse}”.
    </p>
  ) : null;
}

/** A file to be fetched; a picture is shown as well. */
function SentFile({ file }: { file: NonNullable<TalkWord['file']> }) {
  return (
    <a href={file.path} target="_blank" rel="noreferrer" className="inline-flex items-center gap-2 text-cobalt hover:underline">
      {file.width !== null && file.height !== null ? (
        <img
          src={file.path}
          alt={file.name}
          width={file.width}
          height={file.height}
          className="h-auto max-h-48 w-auto max-w-[280px] border border-hair"
        />
      ) : (
        <>
          <Paperclip className="h-4 w-4" aria-hidden="true" />
          {file.name}
          <span className="text-[12px] font-normal text-soft">{Math.max(1, Math.round(file.bytes / 1024))} KB</span>
        </>
      )}
    </a>
  );
}

function Word({ word, visitor, seen }: { word: TalkWord; visitor: string; seen: boolean }) {
  if (word.by === 'house')
    return (
      <p className="flex items-center gap-3 px-6 py-2 text-[12px] text-soft max-sm:px-3">
        <span className="h-px flex-1 bg-hair" aria-hidden="true" />
        {word.text} {clock(word.at)}
        <span className="h-px flex-1 bg-hair" aria-hidden="true" />
      </p>
    );
  if (word.for === 'team')
    return (
      <p className="mx-6 my-2 flex items-start gap-2 rounded border border-dashed border-warn bg-[#fff7df] px-3 py-2 max-sm:mx-3">
        <Lock className="mt-0.5 h-4 w-4 flex-none" aria-hidden="true" />
        <span className="min-w-0 flex-1 whitespace-pre-line [overflow-wrap:anywhere]">
          <b className="font-semibold">{word.name}, to the team:</b> {word.text}
        </span>
        <time className="text-[12px] text-soft">{clock(word.at)}</time>
      </p>
    );
  if (word.by === 'script')
    return (
      <p className="grid grid-cols-[112px_minmax(0,1fr)] gap-x-4 border-t border-hair bg-sheet2 px-6 py-1.5 max-sm:grid-cols-1 max-sm:px-3">
        <span className="text-[12px] leading-5 text-soft">Script {clock(word.at)}</span>
        <span dir="auto" className="text-soft [overflow-wrap:anywhere]">
          {word.text}
          {word.replies.length > 0 && <span className="block text-[12px] leading-4">{word.replies.join(' · ')}</span>}
        </span>
      </p>
    );
  const isTheirs = word.by === 'visitor';
  const name = isTheirs ? visitor : word.name;
  return (
    <div
      className={`grid grid-cols-[112px_minmax(0,1fr)] gap-x-4 border-t border-hair px-6 py-2.5 first:border-t-0 max-sm:grid-cols-1 max-sm:px-3 ${isTheirs ? '' : 'bg-sheet2'}`}
    >
      <div className="flex items-start gap-2">
        <Face name={name} isSelf={!isTheirs} />
        <span className="min-w-0 text-[12px] leading-4">
          <b className="block truncate font-semibold">{isTheirs ? name : name.split(' ')[0]}</b>
          <time className="text-soft" dateTime={word.at}>
            {clock(word.at)}
          </time>
        </span>
      </div>
      <p
        dir="auto"
        className={`text-[15px] leading-[22px] whitespace-pre-line [overflow-wrap:anywhere] ${isTheirs ? 'font-semibold' : ''}`}
      >
        {word.file ? <SentFile file={word.file} /> : word.text}
        {seen && <span className="ms-2 text-[12px] font-normal text-soft">seen</span>}
      </p>
    </div>
  );
}

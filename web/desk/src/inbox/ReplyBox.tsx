import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Paperclip } from 'lucide-react';
import { type KeyboardEvent, type Ref, useImperativeHandle, useRef, useState } from 'react';
import { Refusal } from '../data/api';
import { useTyping } from '../data/typing';
import { Button } from '../kit/Button';
import { Refused } from '../kit/Panel';
import { answeringQuery } from '../session/answering';
import { useDesk } from '../session/desk';
import { repliesQuery, sayInTalk, sendFile, type TalkDetail, talkQuery, typeInTalk } from './api';
import { useWords } from './drafts';
import { fillReply, mentionAt, mentioned, putIn, shortcutAt } from './fill';

const TYPES_EVERY_MS = 3_000;

/** What may be put in where a sign was typed. */
interface Offer {
  id: string;
  sign: string;
  says: string;
  put: string;
}

export interface ReplyHandle {
  focus(note: boolean): void;
}

/** Where one answers, or writes a note to the team. Nothing typed is lost: not when a colleague is quicker, and not by a reload. */
export function ReplyBox({ detail, ref }: { detail: TalkDetail; ref: Ref<ReplyHandle> }) {
  const { site, member } = useDesk();
  const { talk } = detail;
  const queries = useQueryClient();
  const [words, setWords] = useWords(talk.id);
  const [isNote, setNote] = useState(false);
  const [mark, setMark] = useState(0);
  const field = useRef<HTMLTextAreaElement>(null);
  const typedAt = useRef(0);
  const id = useRef(crypto.randomUUID());
  const { colleague } = useTyping(talk.id);
  const { data: answering } = useQuery({ ...answeringQuery(site.id), enabled: isNote || words.includes('@') });
  useImperativeHandle(ref, () => ({
    focus(note) {
      setNote(note);
      field.current?.focus();
    },
  }));
  const say = useMutation({
    mutationFn: (how: { isNote: boolean; takeOver: boolean }) =>
      sayInTalk(site.id, talk.id, {
        id: id.current,
        text: words.trim(),
        isNote: how.isNote,
        takeOver: how.takeOver,
        mentions: how.isNote ? mentioned(words, answering ?? []) : null,
      }),
    onSuccess: (next) => {
      id.current = crypto.randomUUID();
      setWords('');
      queries.setQueryData(talkQuery(site.id, talk.id).queryKey, next);
      void queries.invalidateQueries({ queryKey: ['talks'] });
    },
  });
  const chooser = useRef<HTMLInputElement>(null);
  const sendIt = useMutation({
    mutationFn: (file: File) => sendFile(site.id, talk.id, crypto.randomUUID(), file),
    onSuccess: (next) => {
      queries.setQueryData(talkQuery(site.id, talk.id).queryKey, next);
      void queries.invalidateQueries({ queryKey: ['talks'] });
    },
  });
  const isHeld = say.error instanceof Refusal && say.error.status === 409;
  const shortcut = shortcutAt(words);
  const { data: replies } = useQuery({ ...repliesQuery(site.id), enabled: shortcut !== undefined });
  const name = isNote ? mentionAt(words)?.toLowerCase() : undefined;
  const facts = {
    name: talk.title.startsWith('Visitor') || talk.title === 'A visitor' ? '' : talk.title,
    page: talk.page,
    member: member.name,
  };
  // What the sign at the end could become: a saved reply, or in a note the name of whoever is to be told.
  const fitting: Offer[] =
    name !== undefined
      ? (answering ?? [])
          .filter((m) => m.id !== member.id && m.name.toLowerCase().startsWith(name))
          .map((m) => ({ id: m.id, sign: `@${m.name}`, says: m.isThere ? 'here now, and mailed' : 'away, and mailed', put: `@${m.name} ` }))
          .slice(0, 6)
      : shortcut !== undefined
        ? (replies ?? [])
            .filter((r) => r.shortcut.startsWith(shortcut.toLowerCase()))
            .map((r) => ({ id: r.id, sign: `/${r.shortcut}`, says: r.text, put: fillReply(r.text, facts) }))
            .slice(0, 6)
        : [];
  const chosen = Math.min(mark, fitting.length - 1);

  function put(offer: Offer) {
    setWords(putIn(words, name === undefined ? '/' : '@', offer.put));
    setMark(0);
    field.current?.focus();
  }

  function send() {
    if (words.trim() && !say.isPending) say.mutate({ isNote, takeOver: false });
  }

  function key(event: KeyboardEvent) {
    if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) {
      event.preventDefault();
      return send();
    }
    const offer = fitting[chosen];
    if (!offer) return;
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault();
      setMark((chosen + (event.key === 'ArrowDown' ? 1 : fitting.length - 1)) % fitting.length);
    } else if (event.key === 'Enter' || event.key === 'Tab') {
      event.preventDefault();
      put(offer);
    }
  }

  return (
    <div className="relative flex-none border-t border-ink bg-sheet px-6 pt-3 pb-3 max-sm:px-3">
      {fitting.length > 0 && (
        <div
          id="fitting"
          role="listbox"
          aria-label={name === undefined ? 'Saved replies' : 'Who is told'}
          className="absolute inset-x-6 bottom-full max-h-56 overflow-auto rounded-t border border-ink bg-sheet max-sm:inset-x-3"
        >
          {fitting.map((offer, i) => (
            // biome-ignore lint/a11y/useKeyWithClickEvents: the field's own keys choose.
            <div
              key={offer.id}
              role="option"
              tabIndex={-1}
              aria-selected={i === chosen}
              className={`flex cursor-pointer gap-3 px-3 py-2 ${i === chosen ? 'bg-selectwash' : ''}`}
              onClick={() => put(offer)}
            >
              <code className="flex-none font-mono text-[12.5px]">{offer.sign}</code>
              <span className="min-w-0 truncate text-soft">{offer.says}</span>
            </div>
          ))}
        </div>
      )}
      <div className="mb-2 flex items-center gap-4">
        <div role="group" aria-label="What you write" className="flex gap-4">
          {(
            [
              [false, 'Reply'],
              [true, 'Note'],
            ] as const
          ).map(([note, name]) => (
            <button
              key={name}
              type="button"
              aria-pressed={isNote === note}
              className={`min-h-7 border-b-[3px] font-semibold ${isNote === note ? 'border-marigold' : 'border-transparent text-soft hover:text-ink'}`}
              onClick={() => {
                setNote(note);
                field.current?.focus();
              }}
            >
              {name}
            </button>
          ))}
        </div>
        <span className="text-[12px] text-soft" role="status">
          {colleague && colleague !== member.name.split(' ')[0] && `${colleague} is writing here as well`}
        </span>
        <span className="ms-auto text-[12px] text-soft max-sm:hidden">
          Saved replies <kbd className="rounded border border-hair px-1 font-mono">/</kbd>
        </span>
      </div>
      <div
        className={`flex items-end gap-2 rounded border-2 p-2 focus-within:border-cobalt ${isNote ? 'border-dashed border-warn bg-[#fff7df]' : 'border-hair'}`}
      >
        <textarea
          ref={field}
          aria-label={isNote ? 'Note to the team' : 'Reply'}
          aria-controls={fitting.length > 0 ? 'fitting' : undefined}
          placeholder={isNote ? 'Only the team reads this. @Name tells somebody.' : ''}
          rows={2}
          maxLength={4000}
          dir="auto"
          value={words}
          className="min-w-0 flex-1 resize-none !border-0 bg-transparent text-[15px] leading-[22px] !outline-none"
          onChange={(event) => {
            setWords(event.currentTarget.value);
            if (!isNote && event.currentTarget.value && Date.now() - typedAt.current > TYPES_EVERY_MS) {
              typedAt.current = Date.now();
              void typeInTalk(site.id, talk.id);
            }
          }}
          onKeyDown={key}
        />
        {!isNote && (
          <>
            <input
              ref={chooser}
              type="file"
              hidden
              accept="image/png,image/jpeg,image/webp,image/gif,application/pdf,text/plain"
              onChange={(event) => {
                const chosen = event.currentTarget.files?.[0];
                if (chosen) sendIt.mutate(chosen);
                event.currentTarget.value = '';
              }}
            />
            <Button
              aria-label="Send a file"
              title="Send a file, 5 MB at most"
              disabled={sendIt.isPending}
              onClick={() => chooser.current?.click()}
            >
              <Paperclip className="h-4 w-4" aria-hidden="true" />
            </Button>
          </>
        )}
        <Button kind="primary" disabled={!words.trim() || say.isPending} onClick={send}>
          {isNote ? 'Keep the note' : 'Send'} <span className="font-mono text-[12px] font-normal opacity-80 max-sm:hidden">Ctrl ⏎</span>
        </Button>
      </div>
      {isHeld ? (
        <div role="alert" className="mt-2 flex flex-wrap items-center gap-3">
          <span className="text-bad">{say.error?.message}</span>
          <Button onClick={() => say.mutate({ isNote: true, takeOver: false })}>Keep it as a note</Button>
          <Button onClick={() => say.mutate({ isNote: false, takeOver: true })}>Take it over and send</Button>
        </div>
      ) : (
        <Refused error={say.error ?? sendIt.error} />
      )}
    </div>
  );
}

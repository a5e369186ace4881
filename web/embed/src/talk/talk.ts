import { newId } from '../core/network';
import type { Kit } from '../draw/kit';
import { keeper } from './kept';
import { openLine } from './line';
import type { News, Standing, Unsent, Word } from './types';

/** What a talk needs of the launcher around it. */
export interface TalkAround {
  desk: string;
  site: string;
  /** What every request says of the page. */
  page(): string;
  /** What a first word needs; undefined while there is no plan. */
  first():
    | { passport: string; launcher: string; channel: string; greeting: string | undefined; gpc: boolean; language: string }
    | undefined;
  /** Something to be shown has changed. */
  changed(): void;
  /** A member is writing. */
  types(name: string): void;
}

const NEW: Standing = { seen: 0, closed: false, hasAddress: false, asks: false, late: false };
const MOST_FILE_BYTES = 5 * 1024 * 1024;
const TYPES_EVERY_MS = 3_000;
const FIRST_WAIT_MS = 1_000;
const LONGEST_WAIT_MS = 30_000;
const JOIN_MS = 2_000;

/** One talk of this browser with the team. What is written is kept until it is taken, and sent once and in order. */
export function holdTalk({ quiet, toJson, doc }: Kit, around: TalkAround) {
  const kept = keeper(around.site);
  let words: Word[] = [];
  let state: Standing = NEW;
  let sending = false;
  let joined = false;
  let wait = FIRST_WAIT_MS;
  let retry: ReturnType<typeof setTimeout> | undefined;
  let typedAt = 0;
  let refused: string | undefined;
  let looking = () => false;

  async function post(path: string, body: object, signal?: AbortSignal): Promise<Response | undefined> {
    try {
      return await fetch(`${around.desk}/v/talks${path && `/${path}`}`, {
        method: 'POST',
        body: toJson({ site: around.site, page: around.page(), ...body }),
        headers: { 'content-type': 'text/plain' },
        credentials: 'omit',
        referrerPolicy: 'no-referrer',
        signal: signal ?? null,
      });
    } catch {
      return undefined;
    }
  }

  const line = openLine({
    post,
    at() {
      const { talk, key } = kept.read();
      return talk && key ? { talk, key, after: words.at(-1)?.n ?? 0 } : undefined;
    },
    news: take,
    types: (name) => around.types(name),
    lost,
  });

  function take(news: News) {
    const last = words.at(-1)?.n ?? 0;
    // In the order of their numbers, each once, whichever way they came.
    words = [...words, ...news.words.filter((w) => w.n > last)];
    state = news.state;
    for (const word of news.words) if (word.by === 'v') kept.sent(word.id);
    look();
    around.changed();
  }

  function lost() {
    kept.lose();
    words = [];
    state = NEW;
    around.changed();
    if (kept.read().unsent.length > 0) void flush();
  }

  /** Sends what is unsent, one after the other: the next only once the one before is taken. */
  async function flush() {
    if (sending) return;
    sending = true;
    clearTimeout(retry);
    try {
      while (true) {
        const [next] = kept.read().unsent;
        if (!next) break;
        if (!(await send(next))) {
          retry = setTimeout(() => void flush(), wait * (0.5 + Math.random()));
          wait = Math.min(wait * 2, LONGEST_WAIT_MS);
          break;
        }
        wait = FIRST_WAIT_MS;
      }
    } finally {
      sending = false;
      around.changed();
    }
  }

  async function send({ id, text }: Unsent): Promise<boolean> {
    const { talk, key } = kept.read();
    const first = around.first();
    if (!talk && !first) return false;
    const answer = await (talk ? post('words', { talk, key, id, text }) : post('', { id, text, ...first }));
    if (!answer) return false;
    if (answer.ok) {
      const said = (await answer.json().catch(() => ({}))) as { talk?: string; key?: string };
      if (said.talk && said.key) {
        if (talk && said.talk !== talk) words = [];
        kept.open(said.talk, said.key);
      }
      kept.sent(id);
      line.go();
      return true;
    }
    if (answer.status === 404 && talk) {
      kept.lose();
      words = [];
      return true;
    }
    // What is wrong with it stays wrong: it is given back to be written otherwise.
    if (answer.status === 400) {
      kept.sent(id);
      refused = text;
      return true;
    }
    return false;
  }

  /** What is shown to somebody who looks has been seen. */
  function look() {
    const last = words.at(-1)?.n ?? 0;
    const { talk, key, seen } = kept.read();
    if (!looking() || doc.hidden || last <= seen || !talk) return;
    kept.see(last);
    void post('signs', { talk, key, seen: last });
  }

  addEventListener(
    'online',
    quiet(() => {
      wait = FIRST_WAIT_MS;
      line.again();
      void flush();
    }),
  );
  doc.addEventListener(
    'visibilitychange',
    quiet(() => {
      if (doc.hidden) return;
      line.again();
      void flush();
      look();
      around.changed();
    }),
  );
  // Another tab has begun a talk, or written in it.
  addEventListener('storage', (event) => {
    if (event.key === kept.name) {
      line.go();
      around.changed();
    }
  });
  line.go();
  void flush();

  return {
    words: () => words,
    state: () => state,
    unsent: () => kept.read().unsent,
    isBegun: () => !!kept.read().talk,
    /** Words of the team that nobody has looked at. */
    unread: () => words.filter((w) => w.by !== 'v' && w.n > kept.read().seen).length,
    /** Text that the desk would not take, given back once. */
    givenBack() {
      const text = refused;
      refused = undefined;
      return text;
    },
    say(text: string) {
      kept.add({ id: newId(), text });
      around.changed();
      void flush();
    },
    typing() {
      const { talk, key } = kept.read();
      if (!talk || Date.now() - typedAt < TYPES_EVERY_MS) return;
      typedAt = Date.now();
      void post('signs', { talk, key, types: true });
    },
    /** How to know whether somebody looks at it. */
    looks(at: () => boolean) {
      looking = at;
      look();
      around.changed();
    },
    /** Asks for a person in place of the script. */
    askForPerson() {
      const { talk, key } = kept.read();
      void post('signs', { talk, key, person: true });
    },
    async leaveAddress(email: string, transcript: boolean): Promise<'taken' | 'wrong' | 'lost'> {
      const { talk, key } = kept.read();
      const answer = await post('address', { talk, key, email, transcript });
      return answer?.ok ? 'taken' : answer?.status === 400 ? 'wrong' : 'lost';
    },
    /** Sends a file at once: files are too large to be kept for later. */
    async sendFile(file: File): Promise<'taken' | 'wrong' | 'lost'> {
      const { talk, key } = kept.read();
      if (file.size > MOST_FILE_BYTES) return 'wrong';
      const form = new FormData();
      form.append('request', toJson({ site: around.site, page: around.page(), talk, key, id: newId(), name: file.name }));
      form.append('file', file);
      try {
        const answer = await fetch(`${around.desk}/v/talks/files`, {
          method: 'POST',
          body: form,
          credentials: 'omit',
          referrerPolicy: 'no-referrer',
        });
        return answer.ok ? 'taken' : answer.status === 400 || answer.status === 413 ? 'wrong' : 'lost';
      } catch {
        return 'lost';
      }
    },
    async end(): Promise<boolean> {
      const { talk, key } = kept.read();
      return !!(await post('end', { talk, key }))?.ok;
    },
    /** Whom the site has signed for finds the talk that they have in another browser; once a page. */
    async join(): Promise<void> {
      const first = around.first();
      if (!first || joined) return;
      joined = true;
      const { talk, key } = kept.read();
      const answer = await post('mine', { passport: first.passport, talk, key }, AbortSignal.timeout(JOIN_MS));
      if (answer?.status !== 200) return;
      const mine = (await answer.json().catch(() => ({}))) as { talk?: string; key?: string };
      // They may have begun one here meanwhile.
      if (!mine.talk || !mine.key || mine.talk === talk || kept.read().talk !== talk) return;
      words = [];
      kept.open(mine.talk, mine.key);
      line.again();
      around.changed();
    },
    /** Comes back by the link of a mail. */
    async resume(token: string): Promise<boolean> {
      const answer = await post('resume', { token });
      if (!answer?.ok) return false;
      const { talk, key } = (await answer.json()) as { talk: string; key: string };
      words = [];
      kept.open(talk, key);
      line.again();
      return true;
    },
  };
}

export type Talk = ReturnType<typeof holdTalk>;

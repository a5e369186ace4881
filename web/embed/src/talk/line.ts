import { eventReader } from './events';
import type { News } from './types';

/** What a line needs of the world. */
export interface LineAround {
  /** Sends JSON to the desk; the answer as it came, or undefined when nobody answered. */
  post(path: string, body: object, signal?: AbortSignal): Promise<Response | undefined>;
  /** What to ask with: the talk, its key, and the last number that is shown; undefined while there is no talk. */
  at(): { talk: string; key: string; after: number } | undefined;
  news(news: News): void;
  types(name: string): void;
  /** The key opens nothing. */
  lost(): void;
}

/** Beats come every 15 s: a line on which nothing has come for so long is dead, whatever the browser says. */
const SILENCE_MS = 40_000;
const FIRST_WAIT_MS = 500;
const LONGEST_WAIT_MS = 15_000;
/** So many streams that bring nothing, and we ask instead. */
const STREAMS_TRIED = 2;

/** Follows a talk: over a stream, or by asking again and again where something between swallows streams. Never gives up. */
export function openLine(around: LineAround) {
  let stopped = false;
  let running = false;
  let fruitless = 0;
  let control: AbortController | undefined;
  let wake: (() => void) | undefined;

  async function run() {
    if (running) return;
    running = true;
    let wait = FIRST_WAIT_MS;
    while (!stopped && around.at()) {
      const went = await (fruitless < STREAMS_TRIED ? stream() : poll());
      if (went === 'lost') {
        around.lost();
        break;
      }
      wait = went ? FIRST_WAIT_MS : Math.min(wait * 2, LONGEST_WAIT_MS);
      if (!stopped && !went) await sleep(wait * (0.5 + Math.random()));
    }
    running = false;
  }

  async function stream(): Promise<boolean | 'lost'> {
    const asked = around.at();
    if (!asked) return false;
    const mine = new AbortController();
    control = mine;
    let heard = false;
    let watch = setTimeout(() => mine.abort(), SILENCE_MS);
    try {
      const answer = await around.post('stream', asked, mine.signal);
      if (answer?.status === 404) return 'lost';
      if (!answer?.ok || !answer.body) {
        if (answer?.ok) fruitless++;
        return false;
      }
      const read = eventReader(({ name, data }) => {
        heard = true;
        if (name === 'talk') around.news(JSON.parse(data) as News);
        else if (name === 'types') around.types((JSON.parse(data) as { name: string }).name);
      });
      const reader = answer.body.pipeThrough(new TextDecoderStream()).getReader();
      while (true) {
        const { done, value } = await reader.read();
        if (done) break;
        clearTimeout(watch);
        watch = setTimeout(() => mine.abort(), SILENCE_MS);
        read(value);
      }
    } catch {
      // It broke: asked anew from the last number on.
    } finally {
      clearTimeout(watch);
      mine.abort();
    }
    fruitless = heard ? 0 : fruitless + 1;
    return heard;
  }

  async function poll(): Promise<boolean | 'lost'> {
    const asked = around.at();
    if (!asked) return false;
    const mine = new AbortController();
    control = mine;
    const answer = await around.post('read', { ...asked, wait: true }, mine.signal);
    if (answer?.status === 404) return 'lost';
    if (!answer?.ok) return false;
    try {
      around.news((await answer.json()) as News);
      return true;
    } catch {
      return false;
    }
  }

  const sleep = (ms: number) =>
    new Promise<void>((done) => {
      const timer = setTimeout(done, ms);
      wake = () => {
        clearTimeout(timer);
        done();
      };
    });

  return {
    /** Begins to follow, or asks at once where it waits: there is a talk now, the network is back, the tab woke. */
    go() {
      stopped = false;
      wake?.();
      void run();
    },
    /** Asks anew, as after sleep, when a line may be dead without anybody having noticed. */
    again() {
      control?.abort();
      this.go();
    },
    stop() {
      stopped = true;
      control?.abort();
      wake?.();
    },
  };
}

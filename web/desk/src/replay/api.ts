import { Refusal, type Schema } from '../data/api';

export type ReplayLine = Schema<'ReplayLine'>;
export type ReplayFigures = Schema<'ReplayFigures'>;

/**
 * Plays a callout's draft against recorded visits and tells of it line by line.
 *
 * @param days - How many of the last days, 1 to 90.
 * @param told - Hears every line; the last one is done.
 * @param stop - Ends it at the server too.
 */
export async function runReplay(
  siteId: string,
  calloutId: string,
  days: number,
  told: (line: ReplayLine) => void,
  stop: AbortSignal,
): Promise<void> {
  const answer = await fetch(`/api/sites/${siteId}/callouts/${calloutId}/replay?days=${days}`, { signal: stop });
  if (!answer.ok || !answer.body) {
    const problem = await answer.json().catch(() => ({}));
    throw new Refusal(answer.status, problem.title ?? 'That did not work', problem.detail ?? 'The replay was refused.', problem.field);
  }
  let isDone = false;
  for await (const line of lines(answer.body)) {
    const read = JSON.parse(line) as ReplayLine;
    isDone = read.done;
    told(read);
  }
  if (!isDone) throw new Refusal(0, 'The replay broke off', 'The server went away before all was counted. Replay it again.');
}

async function* lines(body: ReadableStream<Uint8Array>): AsyncGenerator<string> {
  const reader = body.pipeThrough(new TextDecoderStream() as unknown as ReadableWritablePair<string, Uint8Array>).getReader();
  let rest = '';
  for (let part = await reader.read(); !part.done; part = await reader.read()) {
    const whole = (rest + part.value).split('\n');
    rest = whole.pop() ?? '';
    yield* whole;
  }
  if (rest) yield rest;
}

import createClient from 'openapi-fetch';
import type { components, paths } from './api.gen';

/** A schema of the server's own document; no client type is written by hand. */
export type Schema<K extends keyof components['schemas']> = components['schemas'][K];

/** A refusal of the server in words meant for the person. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    readonly title: string,
    detail: string,
    readonly field?: string,
  ) {
    super(detail);
  }
}

let antiforgeryToken = '';

/** Takes over the token that every write has to carry; it comes with the session. */
export function carryToken(token: string) {
  antiforgeryToken = token;
}

/** The token for a write that does not go through {@link client}. */
export const token = () => antiforgeryToken;

export const client = createClient<paths>({ baseUrl: '/' });

client.use({
  onRequest({ request }) {
    if (request.method !== 'GET') request.headers.set('X-Outcry-Antiforgery', antiforgeryToken);
    return request;
  },
});

interface Answer<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** Waits for an answer and gives its content; a refusal, or a server that is away, is thrown as {@link Refusal}. */
export async function answered<T>(asked: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await asked;
  } catch {
    throw new Refusal(0, 'The desk is not reachable', 'The server did not answer. Check the connection; nothing was lost.');
  }
  if (answer.response.ok) return answer.data as T;
  const problem = (answer.error ?? {}) as { title?: string; detail?: string; field?: string };
  throw new Refusal(
    answer.response.status,
    problem.title ?? 'That did not work',
    problem.detail ?? 'The server refused without saying why.',
    problem.field,
  );
}

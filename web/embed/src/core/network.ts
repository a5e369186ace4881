import { toJson } from './bare';

/**
 * Sends JSON to the desk and reads its answer.
 *
 * As plain text, so that no preflight is needed. Never throws: a page that is not ours must not notice that we are away.
 */
export async function ask<T>(url: string, body: unknown): Promise<T | undefined> {
  try {
    const answer = await fetch(url, {
      method: 'POST',
      body: toJson(body),
      headers: { 'content-type': 'text/plain' },
      credentials: 'omit',
      keepalive: true,
      referrerPolicy: 'no-referrer',
    });
    return answer.ok ? ((await answer.json()) as T) : undefined;
  } catch {
    return undefined;
  }
}

/** Hands JSON to the browser to be sent even if the page goes away; false when the browser will not take it. */
export function hand(url: string, body: unknown): boolean {
  try {
    return navigator.sendBeacon(url, toJson(body));
  } catch {
    return false;
  }
}

/** A new id (UUID version 7, RFC 9562 §5.7): it begins with the time, so that the desk's index grows at one end. */
export function newId(): string {
  const time = Date.now().toString(16).padStart(12, '0');
  const hex = Array.from(crypto.getRandomValues(new Uint8Array(9)), (b) => b.toString(16).padStart(2, '0')).join('');
  return `${time}7${hex.slice(15)}8${hex.slice(0, 15)}`.replace(/(.{8})(.{4})(.{4})(.{4})/, '$1-$2-$3-$4-');
}

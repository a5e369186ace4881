import type { Hold } from './queue';

export type Data = Record<string, unknown>;

/** One call of the page's, as `push` takes it; calls made before the script was there wait in a list. */
export type Command =
  | [name: 'visitor', tell: (id: string) => void]
  | [name: 'page']
  | [name: 'show', callout: string]
  | [name: 'open']
  | [name: 'track', event: string, data?: Data | undefined]
  | [name: 'identify', data: Data, signature?: string | undefined]
  | [name: 'consent', agreed: boolean]
  | [name: 'hold', what: Hold, open: boolean];

/** What pages may call once the script is there; `push` works before that too. */
export interface Calls {
  push(command: Command): void;
  /** Reports an event of the page's own by name; "basket" is a basket addition. */
  track(event: string, data?: Data): void;
  /** Says who the visitor is; a signature of `data.id` by the site's server makes it binding. */
  identify(data: Data, signature?: string): void;
  /** Says whether the visitor agreed that anything may be stored in the browser. */
  consent(agreed: boolean): void;
  /** Says that the consent notice, a chat or a dialog of the page's own opened or closed, where nothing in the page tells. */
  hold(what: Hold, open: boolean): void;
}

declare global {
  interface Window {
    outcry?: Calls | Command[];
  }
  interface Navigator {
    /** Global Privacy Control: the browser's standing request not to have data sold or shared. */
    readonly globalPrivacyControl?: boolean;
  }
}

/** Lets the page call, and carries out what it called before we were there. */
export function openCalls(take: (command: Command) => void) {
  const early = window.outcry;
  const call =
    (name: string) =>
    (...told: unknown[]) =>
      take([name, ...told] as Command);
  window.outcry = { push: take, track: call('track'), identify: call('identify'), consent: call('consent'), hold: call('hold') };
  if (Array.isArray(early)) for (const command of early) take(command);
}

/** What must not be sent with every question for a plan. */
const PRIVATE = /mail|phone|name|street|address/i;

/** What the page says of its visitor, as far as it is not private. */
export function openAttributes(data: Data): Record<string, string> {
  return Object.fromEntries(
    Object.entries(data)
      .filter(([key, value]) => !PRIVATE.test(key) && (typeof value === 'string' || typeof value === 'number'))
      .map(([key, value]) => [key, String(value)]),
  );
}

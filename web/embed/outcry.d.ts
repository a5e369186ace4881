// What a page may call of Outcry's snippet. Put this file beside your sources; nothing of it is loaded by visitors.
// Calls made before the script is there wait in a list: window.outcry = window.outcry || [];

/** What holds callouts back while it is open. */
type OutcryHold = 'consent' | 'chat' | 'dialog';

/** Facts with names of your own; whole names, addresses and numbers are not kept. */
type OutcryData = Record<string, unknown>;

type OutcryCommand =
  /** Asks for the visitor's random id. */
  | [name: 'visitor', tell: (id: string) => void]
  /** Says that another page stands there, where no address change tells of it. */
  | [name: 'page']
  /** Brings a callout at once, if it is on the page's plan; its id stands in its menu at the desk. */
  | [name: 'show', callout: string]
  /** Opens the launcher's panel. */
  | [name: 'open']
  /** Reports an event of the page's own; "basket" is a basket addition. */
  | [name: 'track', event: string, data?: OutcryData]
  /** Says who the visitor is; a signature of data.id by your server makes it binding. */
  | [name: 'identify', data: OutcryData, signature?: string]
  /** Says whether the visitor agreed that anything may be stored in the browser. */
  | [name: 'consent', agreed: boolean]
  /** Says that the consent notice, a chat or a dialog opened or closed, where nothing in the page tells. */
  | [name: 'hold', what: OutcryHold, open: boolean];

interface OutcryCalls {
  push(command: OutcryCommand): void;
  track(event: string, data?: OutcryData): void;
  identify(data: OutcryData, signature?: string): void;
  consent(agreed: boolean): void;
  hold(what: OutcryHold, open: boolean): void;
}

interface Window {
  /** A list of calls until the script is there, and the script's own from then on; `push` works with both. */
  outcry?: OutcryCalls | OutcryCommand[];
}

import type { Draw } from './drawing';
import type { Signals } from './signals';
import type { Field, PlanResponse } from './types';

/** What draws a launcher and the bubbles of its greetings; it comes in a file of its own, where a launcher stands. */
export interface Launched {
  /** Shows the launcher of a page view, or takes it off where none stands. */
  show(plan: PlanResponse): void;
  draw: Draw;
  /** Opens the panel, as the page asked. */
  open(): void;
}

/** What a launcher needs of the world around it. */
export interface LauncherWorld {
  site: string;
  /** Address of the page, as the desk is told it. */
  page(): string;
  /** Counts clicks. */
  signals: Pick<Signals, 'add'>;
}

/** A message written in a panel. Field by field it is the server's `MessageRequest`. */
export interface Message {
  site: string;
  page: string;
  passport: string;
  id: string;
  launcher: string;
  channel: string;
  fields: Partial<Record<Lowercase<Field>, string>>;
  greeting: string | undefined;
  gpc: boolean;
}

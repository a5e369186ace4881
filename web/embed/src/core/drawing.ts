import type { EndedBy } from './queue';
import type { Signals } from './signals';
import type { Act } from './triggers';
import type { Cue, LogEntry, Turn, Words } from './types';

/** What is on screen, and how it goes again. */
export interface Drawn {
  element: HTMLElement;
  remove(): void;
}

/** What a callout on screen tells whoever drew it. */
export interface ShapeEvents {
  closed(): void;
  clicked(): void;
  /** They gave what was asked for: it counts as a click, and what is shown stays until it is shut. */
  gave(): void;
  hold(): void;
  release(): void;
}

/** Draws a callout; undefined when there is no room or no place for it. */
export type Draw = (cue: Cue, turn: Turn, words: Words, clear: string, on: ShapeEvents) => Drawn | undefined;

/** Draws what a prompt asks for into its box. */
export type Asking = (box: HTMLElement, cue: Cue, on: ShapeEvents) => void;

/** Draws every shape, and watches for what hardly any callout waits for. */
export interface MoreDrawing {
  draw: Draw;
  watch(cues: readonly Cue[], tell: (act: Act) => void): () => void;
}

/** Puts callouts on the page and takes them off again, as the queue says. */
export interface Screen {
  /** Whether a callout may start now, its place being free; undefined while that is not known yet. */
  ready(cue: Cue): boolean | undefined;
  /** False when the page leaves no room for it. */
  start(cue: Cue, turn: number, asked: boolean, isFirst: boolean): boolean;
  end(cue: Cue, by: EndedBy): void;
  /** Takes everything off. */
  clear(): void;
}

/** What the screen needs of the world around the page view. */
export interface ScreenAround {
  signals: Signals;
  /** Is told what became of callouts, for the visitor's passport. */
  note(entry: Omit<LogEntry, 'at'>): void;
  /** Asks whether somebody of the team is there. */
  askIfThere(): Promise<boolean>;
}

/** What the screen needs of the page view. */
export interface ScreenWorld extends ScreenAround {
  words: Record<string, Words>;
  /** A selector of what nothing may cover. */
  clear: string;
  finish(cue: Cue, by: 'closed' | 'clicked'): void;
  hover(cue: Cue, on: boolean): void;
  /** Runs what is due. */
  run(): void;
}

/** What draws on the page: it comes in files of its own, once something may have to be drawn. */
export interface Drawing {
  open(world: ScreenWorld): Screen;
  /** Watches the page for what the cues wait for. */
  watch(cues: readonly Cue[], tell: (act: Act) => void): () => void;
}

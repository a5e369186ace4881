/** What the server answers to a page view. Field by field it is the server's `PlanResponse`. */
export interface PlanResponse {
  visitor: string;
  passport: string;
  counted: boolean;
  rules: Rules;
  visit: Visit;
  cues: Cue[];
  forms: WatchedForm[];
  mark?: { title: string; lines: string[] };
  stage?: { note?: string };
}

/** Limits over everything that floats on the page. */
export interface Rules {
  atOnce: number;
  gapMs: number;
  mostPerVisit: number;
  patienceMs: number;
}

/** What the visit brings along from earlier pages. */
export interface Visit {
  starts: number;
  sinceLastEndMs?: number;
  hushLeftMs: number;
}

/** A callout that may show on this page view. All times are milliseconds of visible time. */
export interface Cue {
  id: string;
  priority: number;
  dueMs: number;
  turnGapMs: number;
  hushMs: number;
  side: 'Left' | 'Right';
  band: string;
  ground: string;
  ink: string;
  closeMark: boolean;
  newTab: boolean;
  framed: boolean;
  turns: Turn[];
}

/** One thing said; without a stay it lasts until it is closed. */
export interface Turn {
  spans: Span[];
  meta: string;
  picture?: string;
  initials: string;
  link?: string;
  stayMs?: number;
}

/** A run of text: t text, b bold, i italic, h link. */
export interface Span {
  t: string;
  b?: boolean;
  i?: boolean;
  h?: string;
}

/** A form whose named fields, and no others, are reported. */
export interface WatchedForm {
  source: string;
  form: string;
  fields: string[];
}

/** Something that became of a callout, kept until the next plan is asked for. `at` is Unix milliseconds. */
export interface LogEntry {
  callout: string;
  what: 'start' | 'end' | 'close' | 'click';
  at: number;
}

/** What the server answers to a page view. Field by field it is the server's `PlanResponse`. */
export interface PlanResponse {
  visitor: string;
  passport: string;
  counted: boolean;
  store: boolean;
  rules: Rules;
  visit: Visit;
  cues: Cue[];
  forms: WatchedForm[];
  baskets: BasketRule[];
  mark?: { title: string; lines: string[]; next?: { words: string; address: string } };
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
  /** A regular expression over the path of the page that proves that it went through. */
  page?: string;
  /** A selector of the element that proves it. */
  element?: string;
}

/** A form that stands on the page: what its fields are called, never what is in them. */
export interface FoundForm {
  key: string;
  fields: { name: string; type: string; label: string; autocomplete: string | undefined }[];
}

/** What puts something into the basket: a selector besides marked buttons, and one of what names the product. */
export interface BasketRule {
  selector: string;
  product: string;
}

/** Something that became of a callout, kept until the next plan is asked for. `at` is Unix milliseconds. */
export interface LogEntry {
  callout: string;
  what: 'start' | 'end' | 'close' | 'click';
  at: number;
}

/** What the private note says, and where it leads on. */
export interface Mark {
  /** Where the file is that draws it. */
  script: string;
  title: string;
  lines: string[];
  next?: { words: string; address: string };
  /** The panel of a trial visit, in place of the note. */
  trial?: Trial;
}

/** What the panel of a trial visit says. */
export interface Trial {
  who: string;
  lifted: boolean;
  items: TrialItem[];
  until: number;
}

/** One callout on the panel. */
export interface TrialItem {
  id: string;
  name: string;
  shows: boolean;
  dueMs?: number;
  says: string;
  address: string;
}

/** What the server answers to a page view. Field by field it is the server's `PlanResponse`. */
export interface PlanResponse {
  visitor: string;
  passport: string;
  counted: boolean;
  store: boolean;
  rules: Rules;
  visit: Visit;
  cues: Cue[];
  words: Record<string, Words>;
  /** Where the file is that draws. */
  draw: string;
  /** Where the file is that draws more; needed by some cue, or by cards that may stand together, else left out. */
  shapes?: string;
  /** What it takes to ask on this page; left out where no prompt may. */
  ask?: AskOffer;
  /** Where the file is that watches forms and baskets. */
  listen: string;
  /** Selectors of elements about which the desk wants to know whether they are on this page. */
  look?: string[];
  /** By callout: milliseconds from now until its dates or hours end, on the wall's clock; only those that do soon. */
  ends?: Record<string, number>;
  forms: WatchedForm[];
  baskets: BasketRule[];
  mark?: Mark;
  stage?: Stage;
  launcher?: Launcher;
}

export type Field = 'Name' | 'Email' | 'Phone' | 'Message';

/** The launcher that stands on the page. Field by field it is the server's `LauncherPart`. */
export interface Launcher {
  /** Where the file is that draws it, and the one that draws its panel. */
  script: string;
  panel: string;
  id: string;
  lang: string;
  rtl?: boolean;
  button: string;
  title: string;
  look: LauncherLook;
  open: boolean;
  says: string;
  /** When it opens next, in Unix milliseconds. */
  opensAt?: number;
  speaker?: { name: string; role?: string; portrait?: string; initials: string[] };
  greeting: Span[];
  thanks: string;
  channels: Channel[];
  fragment?: string;
  direct: boolean;
  words: LauncherWords;
  /** Where the file is that holds a talk, and its words; not where nobody talks on the page. */
  talk?: {
    script: string;
    words: Record<string, string>;
    /** Minutes within which people usually answer. */
    usual?: number;
  };
}

/** Letters that are not the page's own. */
export type Face = 'Sans' | 'Serif' | 'Mono';

export interface LauncherLook {
  sign: 'None' | 'Speech' | 'Question' | 'Picture';
  picture?: string;
  showsWords: boolean;
  side: 'Left' | 'Right';
  edgePx: number;
  sidePx: number;
  phoneSide: 'Left' | 'Right';
  phoneEdgePx: number;
  size: 'Small' | 'Normal' | 'Large';
  band: string;
  bandInk: string;
  ground: string;
  ink: string;
  face?: Face;
  /** CSS pixels. */
  corner?: number;
  dot: boolean;
}

/** A way to talk. */
export interface Channel {
  id: string;
  kind: 'Chat' | 'Form' | 'Phone' | 'Text' | 'Email' | 'Messenger' | 'Link';
  label: string;
  href?: string;
  /** Tried first. */
  app?: string;
  newWindow?: boolean;
  fields?: { field: Field; needed?: boolean }[];
  untilMs?: number;
}

/** Built-in words of a panel. */
export interface LauncherWords {
  close: string;
  back: string;
  opensNext: string;
  until: string;
  send: string;
  notSent: string;
  fillIn: string;
  checkEmail: string;
  checkPhone: string;
  fields: Record<Field, string>;
}

/** What the stage tells the desk: why there is nothing to show, what was set aside, and what it needs of the page. */
export interface Stage {
  note?: string;
  lifted: string[];
  needs: { selector: string; says: string }[];
}

/** Limits over everything that floats on the page, and selectors of what of the page's own they mind. */
export interface Rules {
  atOnce: number;
  gapMs: number;
  mostPerVisit: number;
  patienceMs: number;
  consent?: string;
  clear?: string;
}

/** What the visit brings along from earlier pages. */
export interface Visit {
  starts: number;
  sinceLastEndMs?: number;
  hushLeftMs: number;
  dialogHushLeftMs: number;
}

export type Shape = 'Slip' | 'Ribbon' | 'Drawer' | 'Poster' | 'Curtain' | 'Inset' | 'Crawl' | 'Bubble';

/** What has to happen: k kind, n number, t target. */
export interface Trigger {
  k: 'Seconds' | 'Idle' | 'Scroll' | 'InView' | 'Leaving' | 'Click' | 'VideoEnd' | 'PageEvent';
  n?: number;
  t?: string;
}

/** A callout that may show on this page view. All times are milliseconds of visible time. */
export interface Cue {
  id: string;
  shape: Shape;
  priority: number;
  triggers?: Trigger[];
  any?: boolean;
  turnGapMs: number;
  rounds?: number;
  hushMs: number;
  asked?: boolean;
  /** Whether it comes at every page view, also if it came in another tab. */
  always?: boolean;
  ifThere?: boolean;
  side: 'Left' | 'Right';
  top?: boolean;
  phoneTop?: boolean;
  anchor?: string;
  inset?: 'Before' | 'First' | 'Last' | 'After';
  band: string;
  bandInk: string;
  ground: string;
  ink: string;
  face?: Face;
  /** CSS pixels. */
  corner?: number;
  /** A picture behind all that a poster, a curtain or a drawer says. */
  backdrop?: string;
  closeMark: boolean;
  newTab?: boolean;
  framed: boolean;
  code?: string;
  lang: string;
  rtl?: boolean;
  drawn: boolean;
  turns: Turn[];
  /** Of a crawl: what it turns over within its one turn. */
  lines?: Turn[];
  /** Of a greeting: whether it opens the launcher's panel, whether it is heard, and its ready replies. */
  opens?: boolean;
  sounds?: boolean;
  replies?: string[];
  /** Of a prompt: what it asks for. */
  ask?: Ask;
}

/** What it takes to ask on a page. */
export interface AskOffer {
  /** Where the file is that draws what a prompt asks for. */
  script: string;
  site: string;
  /** Whether it is only looked at: nothing is sent. */
  stage?: boolean;
  /** Where the site is at home: two letters. */
  region: string;
  /** The English name of the country in which the visitor seems to be. */
  country?: string;
}

/** What a prompt asks for, in the reader's language. Field by field it is the server's `AskPart`. */
export interface Ask {
  fields: AskField[];
  button: string;
  promise?: string;
  ticks?: boolean;
  small?: string;
  thanks: string;
  detail?: string;
  /** Parameters of the page's address that are kept with the answers. */
  takes?: string[];
  /** The parts of its face from above to below; none for the usual order. */
  blocks?: FaceBlock[];
  /** What the face after a yes has otherwise. */
  second?: { picture?: string; band: string; bandInk: string; ground: string; ink: string };
  words: Record<'optional' | 'notSent' | 'wrote' | 'again' | 'fillIn' | 'tick' | 'file' | 'country', string>;
}

export type FaceBlock = 'Picture' | 'Message' | 'Fields' | 'Promise' | 'Button' | 'SmallPrint';

export interface AskField {
  key: string;
  kind: 'Email' | 'Phone' | 'FirstName' | 'Surname' | 'Choice' | 'Choices' | 'Text' | 'Number' | 'Date' | 'Consent';
  label: string;
  needed?: boolean;
  choices?: string[];
}

/** One thing said; without a stay it lasts until it is closed. */
export interface Turn {
  spans: Span[];
  detail?: Span[];
  button?: string;
  meta?: string;
  picture?: string;
  initials?: string;
  link?: string;
  stayMs?: number;
  countdown?: string;
  countdownTo?: number;
}

/** A run of text: t text, b bold, i italic, u underlined, h link. */
export interface Span {
  t: string;
  b?: boolean;
  i?: boolean;
  u?: boolean;
  h?: string;
}

/** Built-in words in one language. */
export interface Words {
  close: string;
  why: string;
  whyEvents: string;
  whyNotice: string;
  copy: string;
  copied: string;
  pause: string;
  play: string;
  days: string;
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

/** Something that became of a callout, kept until the server has taken it into every tab's passport. */
export interface LogEntry {
  callout: string;
  what: 'start' | 'ask' | 'end' | 'close' | 'click';
  at: number;
  /** Of a close: the hush it begins, in milliseconds. */
  hushMs?: number;
  /** Whether that is for dialogs only. */
  dialog?: boolean;
  /** Whether a passport has it. */
  ok?: boolean;
}

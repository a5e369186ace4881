/** A word of a talk as the desk tells it. Field by field it is the server's `TalkWordPart`. */
export interface Word {
  /** Its number: they are shown in this order, each once. */
  n: number;
  id: string;
  /** Visitor, member, script, or the house. */
  by: 'v' | 'm' | 's' | 'h';
  name?: string;
  text: string;
  /** Unix milliseconds. */
  at: number;
  /** Ready replies of a script's question. */
  replies?: string[];
  /** Address of a script's offer. */
  link?: string;
  /** A file that was sent; its text is its name. */
  file?: SentFile;
  /** Milliseconds before it is seen, as if it were typed. */
  pause?: number;
}

export interface SentFile {
  name: string;
  bytes: number;
  /** Of a picture. */
  width?: number;
  height?: number;
  /** From where it is fetched, at the desk's address. */
  path: string;
}

/** How the talk stands. */
export interface Standing {
  /** Up to which number the team has seen it. */
  seen: number;
  who?: string;
  closed: boolean;
  hasAddress: boolean;
  /** Whether a script asks at the moment. */
  asks: boolean;
  /** Whether they were told that nobody has come yet. */
  late: boolean;
}

export interface News {
  words: Word[];
  state: Standing;
}

/** What is not sent yet. */
export interface Unsent {
  id: string;
  text: string;
}

/** Words of the panel by name. */
export type TalkWords = Record<
  | 'write'
  | 'you'
  | 'seen'
  | 'waits'
  | 'types'
  | 'new'
  | 'end'
  | 'ended'
  | 'leave'
  | 'left'
  | 'transcript'
  | 'offline'
  | 'taken'
  | 'person'
  | 'file'
  | 'fileLimits'
  | 'fileFailed'
  | 'usual'
  | 'agree',
  string
>;

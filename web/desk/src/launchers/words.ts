import type { Names } from '../brief/model';
import { triggerWords } from '../brief/when';
import { deviceWords, ruleWords } from '../brief/who';
import { messageWords, pageWords } from '../brief/words';
import type { Change } from '../drafting/changes';
import { languageName } from '../kit/languages';
import type { Channel, LauncherBrief, Rung } from './api';

/** What each way to talk is called at the desk, and what it needs. */
export const CHANNELS: Record<Channel['kind'], { name: string; what: string; target?: string; placeholder?: string }> = {
  chat: { name: 'On the page', what: 'A message written in the panel. It comes to the ledger and, by mail, to the team.' },
  form: { name: 'Contact form', what: 'A form in the panel with the fields you choose.' },
  phone: { name: 'Phone', what: 'A call.', target: 'Number, with its country code', placeholder: '+44 …' },
  text: { name: 'Text message', what: 'A text message from their phone.', target: 'Number, with its country code', placeholder: '+44 …' },
  email: { name: 'E-mail', what: 'A mail from their own program.', target: 'Address', placeholder: 'ask@…' },
  messenger: { name: 'Messaging app', what: 'Any app that can be opened by a link.', target: 'Handle or number', placeholder: '@studio' },
  link: {
    name: 'Link',
    what: 'A booking page, a help page, anything with an address.',
    target: 'Address',
    placeholder: 'https://… or /help',
  },
};

export const CHANNEL_ORDER = Object.keys(CHANNELS) as Channel['kind'][];

/** "always", "while open", or its own hours. */
export const channelHoursWords = ({ hours, week }: Pick<Channel, 'hours' | 'week'>) =>
  hours === 'always' ? 'always' : hours === 'whileOpen' ? 'while open' : week.length === 0 ? 'always' : 'own hours';

/** On which pages, as a clause: patterns, groups, and what is left out. */
export function whereWords(where: Rung['where'], names: Names): string {
  const groups = where.groups.map((id) => names.groups.find((g) => g.id === id)?.name ?? 'a group that is gone');
  const pages = where.includes.length > 0 || groups.length === 0 ? [pageWords(where.includes)] : [];
  const on = [...groups, ...pages].join(' and ');
  return where.excludes.length === 0 ? on : `${on} but ${pageWords(where.excludes)}`;
}

/** To whom, as a clause. */
export function whoWords(rung: Rung, names: Names): string {
  const who = ruleWords(rung.who.rule, names);
  const languages = rung.languages.length === 0 ? '' : ` who read ${rung.languages.map(languageName).join(' or ')}`;
  const devices = rung.who.hiddenOn.length === 0 ? '' : ` on ${deviceWords(rung.who.hiddenOn)}`;
  return `${who}${languages}${devices}`;
}

/** When, as a clause; with whether somebody has to be there. */
export function whenWords(rung: Rung): string {
  const there = rung.when.onlyIfAvailable ? ', while someone is here' : '';
  const open = rung.while === 'open' ? ', while open' : rung.while === 'closed' ? ', while closed' : '';
  return `${triggerWords(rung.when)}${there}${open}`;
}

/** What a greeting says, in the site's own language. */
export const greetingWords = (rung: Rung) => messageWords(rung.words[0]?.words ?? '') || 'nothing yet';

/** What a greeting does besides. */
export function actWords(rung: Rung): string {
  const does =
    rung.does === 'openPanel' ? 'open the panel' : rung.staySeconds === null ? 'stay until closed' : `stay ${rung.staySeconds} s`;
  return rung.sound ? `${does} with a sound` : does;
}

/** Where the button stands. */
export const positionWords = ({ look }: LauncherBrief) => `bottom ${look.side}`;

/** For whom the launcher stands. */
export function standsForWords({ who }: LauncherBrief, names: Names): string {
  const words = ruleWords(who.rule, names);
  return who.hiddenOn.length === 0 ? words : `${words}, on ${deviceWords(who.hiddenOn)}`;
}

/** What becomes of it while closed, as clauses of a sentence. */
export function closedWords({ closed }: LauncherBrief): string {
  if (closed.hides) return 'it is not there';
  return closed.takesMessages ? 'take a message' : 'take no message';
}

/** The parts of a launcher by which changes are told: each with its words, so that a reader sees what became of it. */
export function partsOf(brief: LauncherBrief, names: Names): Record<string, string> {
  const parts: Record<string, string> = {
    'Stands on': whereWords(brief.where, names),
    Where: positionWords(brief),
    For: standsForWords(brief, names),
    Button: brief.words[0]?.button ?? '',
    Languages: brief.words
      .slice(1)
      .map((w) => languageName(w.language))
      .join(', '),
    'Ways to talk': brief.channels.map((c) => c.label || CHANNELS[c.kind].name).join(', '),
    'When closed': closedWords(brief),
  };
  brief.rungs.forEach((rung, i) => {
    parts[`Greeting ${i + 1}`] =
      `on ${whereWords(rung.where, names)}, to ${whoWords(rung, names)}, ${whenWords(rung)}: ${greetingWords(rung)} and ${actWords(rung)}`;
  });
  return parts;
}

/** What differs between two launchers, by part; parts that read alike and are not told by their name alone. */
export function changesOf(draft: LauncherBrief, live: LauncherBrief, names: Names): Change[] {
  const [before, now] = [partsOf(live, names), partsOf(draft, names)];
  const changes = [...new Set([...Object.keys(before), ...Object.keys(now)])]
    .filter((part) => before[part] !== now[part])
    .map((part) => ({ part, was: before[part], is: now[part] }) as Change);
  const same = (key: keyof LauncherBrief) => JSON.stringify(draft[key]) === JSON.stringify(live[key]);
  const told = (...parts: string[]) => changes.some((c) => parts.some((p) => c.part.startsWith(p)));
  const silent: [keyof LauncherBrief, string, string[]][] = [
    ['look', 'Its look', ['Where']],
    ['words', 'Its words', ['Button', 'Languages']],
    ['speaker', 'Who speaks', []],
    ['channels', 'What is behind its ways to talk', ['Ways']],
    ['hours', 'Its hours', []],
    ['closed', 'What it says while closed', ['When closed']],
    ['rungs', 'What is behind its greetings', ['Greeting']],
    ['priority', 'Its priority', []],
    ['mailTo', 'Who gets its messages', []],
    ['scriptId', 'The script its talks begin with', []],
    ['fragment', 'What opens it', []],
    ['direct', 'Whether it goes straight to the channel', []],
    ['thenNext', 'What comes after a refused greeting', []],
    ['mostPerVisit', 'Greetings a visit', []],
  ];
  for (const [key, part, by] of silent) if (!same(key) && !told(...by)) changes.push({ part });
  return changes;
}

import type { Facet } from '../kit/Phrase';
import { plural } from '../kit/plural';
import { ASK_VALUES, askParts, promiseParts, thenParts } from './asking';
import type { Brief, Source } from './types';
import { scheduleWords, triggerWords, turnWords } from './when';
import { deviceWords, type Named, ruleWords } from './who';
import {
  conditionWords,
  languageWords,
  linkWords,
  mannerWords,
  messageWords,
  pageWords,
  pauseWords,
  pictureWords,
  repeatWords,
  sourceWords,
  windowWords,
} from './words';

/** The facets of a brief in the order in which it is read. */
export type BriefFacet = Facet;

/** A part of a sentence: plain words, or a phrase that can be opened under its key. */
export type Part = string | { key: string; words: string };

/** One facet read as a sentence. */
export interface Sentence {
  facet: BriefFacet;
  label: string;
  parts: Part[];
}

/** What else a brief may name: segments and page groups, sources besides. */
export interface Names {
  sources: readonly Source[];
  segments: readonly Named[];
  groups: readonly Named[];
}

/** Nothing to name yet, as while it is being fetched. */
export const NO_NAMES: Names = { sources: [], segments: [], groups: [] };

const p = (key: string, words: string): Part => ({ key, words });

/** Reads a brief as sentences. The words between the phrases never change, so that the eye learns where things stand. */
export function readBrief(brief: Brief, names: Names): Sentence[] {
  return [
    { facet: 'say', label: 'Say', parts: sayParts(brief) },
    ...(brief.ask && brief.kind === 'prompt'
      ? ([
          { facet: 'ask', label: 'Ask for', parts: askParts(brief.ask) },
          { facet: 'promise', label: 'Promise', parts: promiseParts(brief.ask) },
          { facet: 'after', label: 'Then', parts: thenParts(brief.ask) },
        ] satisfies Sentence[])
      : ([{ facet: 'from', label: 'From', parts: fromParts(brief, names.sources) }] satisfies Sentence[])),
    { facet: 'where', label: 'Where', parts: whereParts(brief, names.groups) },
    {
      facet: 'who',
      label: 'Who',
      parts: ['For ', p('who.rule', ruleWords(brief.who.rule, names)), ', on ', p('who.devices', deviceWords(brief.who.hiddenOn)), '.'],
    },
    { facet: 'when', label: 'When', parts: whenParts(brief) },
    { facet: 'often', label: 'How often', parts: oftenParts(brief, names.sources) },
    { facet: 'look', label: 'Look', parts: lookParts(brief) },
  ];
}

// Inside a sentence of the brief the message's own full stop would end it.
const clause = (words: string) => words.replace(/[.。]+$/, '');

function sayParts(brief: Brief): Part[] {
  const { say } = brief;
  return [
    brief.kind === 'prompt' ? 'Ask ' : 'Say ',
    p('say.message', clause(messageWords(say.message)) || 'nothing yet'),
    ...(say.detail ? [' and ', p('say.detail', clause(messageWords(say.detail)))] : []),
    // A question leads nowhere and copies nothing: its button is what it asks for.
    ...(brief.kind === 'prompt' ? [', '] : [', with ', p('say.manner', mannerWords(brief)), ', ']),
    p('say.picture', pictureWords(say.picture)),
    ', ',
    ...(brief.kind === 'prompt' ? [] : [p('say.link', linkWords(say)), ', ']),
    p('say.languages', languageWords(say)),
    '.',
  ];
}

const MEASURES: Record<Brief['from']['measure'], string> = {
  events: 'events',
  people: 'people, each once,',
  pageViews: 'page views',
  visitors: 'visitors, each once,',
};

const NEAR: Record<Brief['from']['near'], string> = {
  anywhere: 'from anywhere',
  countryFirst: "from the visitor's country first",
  countryOnly: "from the visitor's country only",
  regionFirst: "from the visitor's region first",
  regionOnly: "from the visitor's region only",
};

/** The words for whose events are told. */
export const nearWords = (near: Brief['from']['near']) => NEAR[near];

function countedPages({ from }: Brief): string {
  if (from.ofThisPage) return 'the very page that is read';
  return from.pages.length === 0 ? 'the pages where it shows' : pageWords(from.pages);
}

function fromParts(brief: Brief, sources: readonly Source[]): Part[] {
  const { kind, from } = brief;
  const chosen = p('from.sources', sourceWords(brief, sources));
  const window = p('from.window', windowWords(from.windowMinutes));
  const least = (noun: string): Part[] => ['. Show from ', p('from.least', plural(from.leastNumber, noun)), '.'];
  const about: Part[] = from.ofThisPage ? [', ', p('from.page', "about this page's product")] : [];
  switch (kind) {
    case 'notice':
    case 'prompt':
      return ['It needs no events: the words are all there is.'];
    case 'headcount':
      return [
        'Count who ',
        p('from.window', from.windowMinutes === null ? 'is here now' : `looked in ${windowWords(from.windowMinutes)}`),
        ' on ',
        p('from.pages', countedPages(brief)),
        ...least('visitor'),
      ];
    case 'tally':
      return from.measure === 'pageViews' || from.measure === 'visitors'
        ? [
            'Count ',
            p('from.measure', MEASURES[from.measure]),
            ' of ',
            p('from.pages', countedPages(brief)),
            ' in ',
            window,
            ...least('view'),
          ]
        : [
            'Count ',
            p('from.measure', MEASURES[from.measure]),
            ' from ',
            chosen,
            ' in ',
            window,
            ', ',
            p('from.conditions', conditionWords(from)),
            ', ',
            p('from.near', NEAR[from.near]),
            ...about,
            ...least(from.measure === 'people' ? 'person' : 'event').map((x) =>
              typeof x === 'string' ? x : { ...x, words: x.words.replace('persons', 'people') },
            ),
          ];
    case 'remainder':
      return [
        'Use stock levels from ',
        chosen,
        ' at ',
        p('from.left', `${from.mostLeft} left or fewer`),
        ', ',
        p('from.conditions', conditionWords(from)),
        ...about,
        '.',
      ];
    case 'standing':
      return ['Use the newest total of ', chosen, '. Show from ', p('from.least', from.leastNumber.toLocaleString('en-GB')), '.'];
    default:
      return [
        kind === 'quote' ? 'Use reviews from ' : 'Use events from ',
        chosen,
        ' in ',
        window,
        ...(kind === 'quote'
          ? [' with ', p('from.stars', from.leastStars > 0 ? `${from.leastStars} stars or more` : 'any stars or none')]
          : []),
        ', ',
        p('from.conditions', conditionWords(from)),
        ', ',
        p('from.near', NEAR[from.near]),
        ...about,
        ...least(kind === 'quote' ? 'quote' : 'event'),
      ];
  }
}

function whereParts({ where }: Brief, groups: readonly Named[]): Part[] {
  const named = where.groups.map((id) => groups.find((g) => g.id === id)?.name ?? 'a group that is gone');
  const pages = named.length > 0 ? [...named, ...where.includes].join(', ') : pageWords(where.includes);
  return [
    'Show it on ',
    p('where', pages),
    ...(where.excludes.length > 0 ? [', never on ', p('where.excludes', pageWords(where.excludes))] : []),
    ', ',
    p('where.replaces', where.replaces ? 'in place of site-wide ones of its kind' : 'together with site-wide callouts'),
    '.',
  ];
}

function whenParts({ when }: Brief): Part[] {
  return [
    'It appears ',
    p('when.triggers', triggerWords(when)),
    ', in ',
    p('when.turns', turnWords(when)),
    ', ',
    p('when.schedule', scheduleWords(when.schedule)),
    ...(when.onlyIfAvailable ? [', ', p('when.available', 'only while somebody of the team is there')] : []),
    '.',
  ];
}

function oftenParts({ howOften, priority, holdbackPercent }: Brief, sources: readonly Source[]): Part[] {
  const goals = howOften.goals.map((id) => sources.find((s) => s.id === id)?.name ?? 'a source that is gone');
  return [
    'Show it ',
    p('often.repeat', repeatWords(howOften)),
    '. After a close, the site stays quiet for ',
    p('often.hush', plural(howOften.hushHours, 'hour')),
    ', and this one ',
    p('often.afterClose', pauseWords(howOften.afterClose, 'may come back after that')),
    ...(goals.length > 0
      ? [
          '. After a success (',
          p('often.goals', goals.join(', ')),
          ') it ',
          p('often.afterSuccess', pauseWords(howOften.afterSuccess, 'goes on as before')),
        ]
      : []),
    '. When several are due, it goes at ',
    p('often.priority', `priority ${priority}`),
    '. It is ',
    p('often.holdback', holdbackPercent > 0 ? `held back from ${holdbackPercent} % of visitors` : 'shown to everyone it is for'),
    '.',
  ];
}

/** The shape and where it stands, as a clause. */
export function shapeWords({ shape, side, edge, phoneEdge, anchor }: Brief['look']): string {
  const phone = phoneEdge === edge ? '' : `, on phones at the ${phoneEdge}`;
  switch (shape) {
    case 'slip':
      return `a slip, ${edge} ${side}${phone}`;
    case 'ribbon':
    case 'crawl':
      return `a ${shape} along the ${edge}${phone}`;
    case 'drawer':
      return `a drawer from the ${side}`;
    case 'inset':
      return `an inset by ${anchor || 'an element yet to be named'}`;
    default:
      return `a ${shape}`;
  }
}

const LETTERS: Record<Brief['look']['typeface'], string> = {
  page: 'in the page’s letters',
  sans: 'in plain letters',
  serif: 'in letters with serifs',
  mono: 'in letters of one width',
};

const lettersWords = ({ typeface, cornerPx }: Brief['look']) =>
  `${LETTERS[typeface]} and ${cornerPx === 0 ? 'square corners' : `corners of ${cornerPx} px`}`;

/** Whether a shape has room for a picture behind what it says. */
const hasRoomBehind = ({ shape }: Brief['look']) => shape === 'poster' || shape === 'curtain' || shape === 'drawer';

function lookParts({ look }: Brief): Part[] {
  return [
    'Drawn as ',
    p('look.shape', shapeWords(look)),
    ...(hasRoomBehind(look) || look.backdrop
      ? [' ', p('look.backdrop', look.backdrop ? 'in front of a picture' : 'with no picture behind it')]
      : []),
    ', in ',
    p('look.colours', `${look.band} on ${look.ground}`),
    ', ',
    p('look.letters', lettersWords(look)),
    ', ',
    p('look.stay', look.staySeconds === null ? 'until closed' : `for ${plural(look.staySeconds, 'second')}`),
    ', ',
    p('look.close', look.closeMark ? 'with a close mark' : 'without a close mark'),
    '.',
  ];
}

const PHRASE_VALUES: Record<string, (brief: Brief) => unknown> = {
  'say.message': (b) => b.say.message,
  'say.detail': (b) => b.say.detail,
  'say.manner': (b) => [b.say.time, b.say.number, b.say.code],
  'say.picture': (b) => [b.say.picture, b.say.pictureAddress],
  'say.link': (b) => [b.say.link, b.say.linkAddress, b.say.newTab, b.say.button, b.say.campaign],
  'say.languages': (b) => b.say.translations,
  ...ASK_VALUES,
  'from.sources': (b) => [b.from.sources, b.from.shuffle],
  'from.window': (b) => [b.from.windowMinutes, b.from.oldestDays],
  'from.conditions': (b) => [b.from.conditions, b.from.join],
  'from.least': (b) => b.from.leastNumber,
  'from.measure': (b) => b.from.measure,
  'from.near': (b) => b.from.near,
  'from.pages': (b) => [b.from.pages, b.from.ofThisPage],
  'from.left': (b) => b.from.mostLeft,
  'from.stars': (b) => b.from.leastStars,
  where: (b) => [b.where.includes, b.where.groups],
  'where.excludes': (b) => b.where.excludes,
  'where.replaces': (b) => b.where.replaces,
  'who.rule': (b) => b.who.rule,
  'who.devices': (b) => b.who.hiddenOn,
  'when.triggers': (b) => [b.when.triggers, b.when.join],
  'when.turns': (b) => [b.when.turns, b.when.turnGapSeconds, b.when.rounds],
  'when.schedule': (b) => [b.when.schedule, b.when.onlyIfAvailable],
  'often.repeat': (b) => [b.howOften.unit, b.howOften.every, b.howOften.mostVisits, b.howOften.mostPerWeek, b.howOften.untilClicked],
  'often.hush': (b) => b.howOften.hushHours,
  'often.afterClose': (b) => [b.howOften.afterClose, b.howOften.goals, b.howOften.afterSuccess],
  'often.priority': (b) => b.priority,
  'often.holdback': (b) => b.holdbackPercent,
  'look.shape': (b) => [b.look.shape, b.look.side, b.look.edge, b.look.phoneEdge, b.look.anchor, b.look.inset],
  'look.backdrop': (b) => b.look.backdrop,
  'look.colours': (b) => [b.look.band, b.look.ground],
  'look.letters': (b) => [b.look.typeface, b.look.cornerPx],
  'look.stay': (b) => b.look.staySeconds,
  'look.close': (b) => b.look.closeMark,
};

/** Keys of the phrases in which the draft differs from what is live; none before the first publication. */
export function changedPhrases(draft: Brief, live: Brief | null): string[] {
  if (!live) return [];
  return Object.entries(PHRASE_VALUES)
    .filter(([, read]) => JSON.stringify(read(draft)) !== JSON.stringify(read(live)))
    .map(([key]) => key);
}

import * as z from 'zod/mini';

// What stands in an address may have been written by anybody, by an earlier desk, or cut off by a mail: what is not what it
// should be is left out, and the page opens without it.
const kept = <T extends z.ZodMiniType>(schema: T) => z.catch(z.optional(schema), undefined);

const text = kept(z.string().check(z.minLength(1)));
const yes = kept(z.literal(true));
const texts = kept(z.array(z.string()));
const whole = kept(z.number().check(z.int(), z.nonnegative()));
const pairs = kept(z.record(z.string(), z.string()));

const device = z.enum(['desktop', 'tablet', 'phone']);
const deeds = kept(
  z.array(
    z.object({
      kind: z.enum([
        'purchase',
        'booking',
        'signUp',
        'enquiry',
        'basketAddition',
        'review',
        'stockLevel',
        'endorsement',
        'post',
        'total',
        'own',
      ]),
      source: z.catch(z.nullable(z.string()), null),
      product: z.catch(z.string(), ''),
      category: z.catch(z.string(), ''),
      daysAgo: z.catch(z.number().check(z.nonnegative()), 0),
    }),
  ),
);

const visitor = z.object({
  visitNumber: kept(z.number().check(z.int(), z.positive())),
  pagesBefore: whole,
  pagesEver: whole,
  secondsOnSite: whole,
  hoursSinceLastVisit: whole,
  metEverything: kept(z.boolean()),
  saw: texts,
  closed: texts,
  device: kept(device),
  languages: texts,
  country: text,
  region: text,
  city: text,
  localHour: whole,
  isKnown: kept(z.boolean()),
  attributes: pairs,
  tags: texts,
  entryPage: text,
  referrer: text,
  campaign: pairs,
  pastEvents: deeds,
  agreed: kept(z.boolean()),
});

const act = z.object({
  atSeconds: z.number().check(z.nonnegative()),
  kind: z.enum([
    'hide',
    'return',
    'close',
    'click',
    'hover',
    'leave',
    'scroll',
    'see',
    'pointerOut',
    'flickUp',
    'clickElement',
    'videoEnds',
    'pageEvent',
    'show',
    'move',
    'busy',
    'holdOpens',
    'holdCloses',
    'teamLeaves',
    'teamReturns',
    'over',
  ]),
  callout: z.catch(z.nullable(z.string()), null),
  target: z.catch(z.string(), ''),
});

const page = z.object({
  path: z.string().check(z.startsWith('/')),
  staySeconds: z.number().check(z.int(), z.positive()),
  scrollPercent: z.catch(z.number().check(z.minimum(0), z.maximum(100)), 0),
  leaves: z.catch(z.boolean(), false),
  acts: z.catch(z.array(act), []),
});

/** The same without what is not there: a field that is left out is not one that is empty. */
const there = <T extends object>(value: T): { [K in keyof T]: Exclude<T[K], undefined> } =>
  Object.fromEntries(Object.entries(value).filter(([, v]) => v !== undefined)) as never;

export const runSheetSearch = z.object({
  persona: kept(z.enum(['new', 'backAfterADay', 'closedOne'])),
  segment: text,
  device: kept(device),
  language: text,
  at: text,
  trying: text,
  block: text,
  lane: text,
  panel: kept(z.literal('rules')),
});

export const rehearsalSearch = z.object({
  visitor: kept(z.pipe(visitor, z.transform(there))),
  pages: kept(z.array(page)),
  at: text,
  draft: text,
});

export const calloutsSearch = z.object({
  shelf: kept(z.enum(['archived', 'deleted'])),
  text,
  state: kept(z.enum(['draft', 'scheduled', 'live', 'ended', 'paused', 'archived', 'noted'])),
  kind: kept(z.enum(['moment', 'tally', 'headcount', 'remainder', 'quote', 'standing', 'notice', 'prompt'])),
  sort: kept(z.enum(['name', 'state', 'shown', 'clicked', 'closed', 'lastShown', 'changed'])),
  up: yes,
});

/** Lists of what can be put away. */
export const shelfSearch = z.object({ shelf: kept(z.enum(['archived', 'deleted'])) });

/** Which greeting lies open, and at which of its phrases. */
export const launcherSearch = z.object({ rung: text, part: text });

export const composerSearch = z.object({ open: text });

export const teamSearch = z.object({
  view: kept(z.enum(['review', 'kit', 'library', 'tokens', 'house'])),
  panel: kept(z.literal('invite')),
  member: text,
  query: text,
});

export const inboxSearch = z.object({
  queue: kept(z.enum(['mine', 'unclaimed', 'others', 'snoozed', 'closed', 'blocked', 'all'])),
  talk: text,
  words: text,
  waits: kept(z.literal(true)),
  group: kept(z.string()),
  panel: kept(z.literal('replies')),
});

export const leadsSearch = z.object({
  state: kept(z.enum(['waiting', 'confirmed', 'withdrawn', 'unreachable'])),
  words: text,
  tag: text,
  callout: text,
  tests: kept(z.literal(true)),
  lead: text,
  panel: kept(z.enum(['rewards', 'webhooks', 'import'])),
});

export const audienceSearch = z.object({
  view: kept(z.enum(['segments', 'visitors', 'groups'])),
  /** What lies open beside the list; "new" for one to be made. */
  id: text,
  segment: text,
  page: text,
  skip: kept(z.number().check(z.int(), z.positive())),
});

export const ledgerSearch = z.object({
  source: text,
  kind: text,
  state: text,
  page: text,
  text,
  hours: whole,
  event: text,
  /** What lies open beside the list, and which one. */
  panel: kept(z.enum(['event', 'source', 'add', 'import', 'erase', 'care'])),
  id: text,
});

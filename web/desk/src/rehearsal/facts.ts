import { languageName } from '../kit/languages';
import type { Visitor } from '../visits/model';

/** What of a visitor a phrase stands for. */
export type FactKey = 'visits' | 'device' | 'language' | 'place' | 'cameBy' | 'did' | 'identity' | 'clock';

/** One phrase of the sentence that says who visits. */
export interface FactPhrase {
  key: FactKey;
  /** What stands before it in the sentence. */
  before: string;
  words: string;
  label: string;
}

/** The sentence: "A new visitor on a desktop, reading …". */
export function factPhrases(visitor: Visitor, nameOf: (callout: string) => string): FactPhrase[] {
  return [
    { key: 'visits', before: 'A ', words: visitWords(visitor, nameOf), label: 'Visits before' },
    { key: 'device', before: ' on a ', words: visitor.device ?? 'desktop', label: 'Device' },
    {
      key: 'language',
      before: ', reading ',
      words: visitor.languages?.[0] ? visitor.languages.map(languageName).join(', ') : "the site's language",
      label: 'Language',
    },
    { key: 'place', before: ', from ', words: placeWords(visitor), label: 'Place' },
    { key: 'cameBy', before: ', sent by ', words: cameByWords(visitor), label: 'How they came' },
    { key: 'did', before: ', who ', words: deedWords(visitor), label: 'What they did' },
    { key: 'identity', before: ' and ', words: identityWords(visitor), label: 'Who the page says it is' },
    {
      key: 'clock',
      before: '. On their clock it is ',
      words: visitor.localHour === null || visitor.localHour === undefined ? 'whenever it is here' : `${visitor.localHour}:00`,
      label: 'Their clock',
    },
  ];
}

function visitWords(v: Visitor, nameOf: (callout: string) => string): string {
  const met = v.metEverything || (v.saw?.length ?? 0) + (v.closed?.length ?? 0) > 0;
  const number = Math.max(v.visitNumber ?? 1, met ? 2 : 1);
  const here = v.pagesBefore ? `, ${v.pagesBefore} ${v.pagesBefore === 1 ? 'page' : 'pages'} into it` : '';
  if (number === 1) return `new visitor${here}`;
  const parts = [`visitor in visit ${number}${here}, last here ${hoursWords(v.hoursSinceLastVisit ?? 24)} ago`];
  const did = [
    v.metEverything ? 'met everything' : v.saw?.length ? `met ${v.saw.map(nameOf).join(', ')}` : '',
    v.closed?.length ? `closed ${v.closed.map(nameOf).join(', ')}` : '',
  ].filter(Boolean);
  if (did.length > 0) parts.push(`who ${did.join(' and ')}`);
  return parts.join(', ');
}

/** "2 days" or "5 hours". */
export function hoursWords(hours: number): string {
  if (hours % 24 === 0) return hours === 24 ? 'a day' : `${hours / 24} days`;
  return hours === 1 ? 'an hour' : `${hours} hours`;
}

const placeWords = (v: Visitor) => [v.city, v.region, v.country].filter(Boolean).join(', ') || 'somewhere unknown';

function cameByWords(v: Visitor): string {
  const campaign = Object.entries(v.campaign ?? {}).map(([key, value]) => `${key} ${value}`);
  const entry = v.entryPage ? [`in by ${v.entryPage}`] : [];
  return [...(v.referrer ? [v.referrer] : []), ...campaign, ...entry].join(', ') || 'nobody in particular';
}

function deedWords(v: Visitor): string {
  const did = (v.pastEvents ?? []).map((d) => {
    const what = d.kind === 'purchase' ? `bought ${d.product || d.category || 'something'}` : 'sent a form';
    const days = d.daysAgo ?? 0;
    return `${what} ${days === 0 ? 'today' : days === 1 ? 'a day ago' : `${days} days ago`}`;
  });
  return did.join(' and ') || 'has done nothing yet';
}

function identityWords(v: Visitor): string {
  const said = [
    ...Object.entries(v.attributes ?? {}).map(([key, value]) => `${key} ${value}`),
    ...(v.tags ?? []).map((tag) => `tagged ${tag}`),
    ...(v.agreed === false ? ['has not agreed to storing'] : []),
  ];
  return [v.isKnown ? 'is signed in' : 'is anonymous', ...said].join(', ');
}

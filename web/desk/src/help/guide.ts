/** A part of the guide under a heading of its own. */
export interface GuidePart {
  /** The page's file name without its ending: "guide-callouts". */
  page: string;
  heading: string;
  /** Markdown, without the heading. */
  text: string;
}

const PAGES = import.meta.glob<string>('../../../../docs/guide*.md', { query: '?raw', import: 'default' });

/** The order in which one reads it. */
const ORDER = ['guide', 'guide-desk', 'guide-callouts', 'guide-launchers', 'guide-inbox', 'guide-asking', 'guide-sources', 'guide-team'];

const nameOf = (path: string) => path.replace(/^.*\/|\.md$/g, '');

/** The whole guide as it was shipped, part by part; nothing is fetched from elsewhere. */
export async function readGuide(): Promise<GuidePart[]> {
  const paths = Object.keys(PAGES).sort((a, b) => ORDER.indexOf(nameOf(a)) - ORDER.indexOf(nameOf(b)));
  const pages = await Promise.all(paths.map(async (path) => partsOf(nameOf(path), (await PAGES[path]?.()) ?? '')));
  return pages.flat();
}

/** Splits a page at its headings. */
export function partsOf(page: string, markdown: string): GuidePart[] {
  const parts: GuidePart[] = [];
  for (const line of markdown.split('\n')) {
    const heading = /^#{1,3} (.+)$/.exec(line)?.[1];
    if (heading) parts.push({ page, heading, text: '' });
    else {
      const last = parts.at(-1);
      if (last) last.text += `${line}\n`;
    }
  }
  return parts.filter((p) => p.text.trim());
}

/** Parts in which every word stands, those with it in their heading first. */
export function search(parts: readonly GuidePart[], typed: string): GuidePart[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) return [];
  const inHeading = (p: GuidePart) => words.some((w) => p.heading.toLowerCase().includes(w));
  return parts
    .filter((p) => words.every((w) => `${p.heading} ${p.text}`.toLowerCase().includes(w)))
    .sort((a, b) => Number(inHeading(b)) - Number(inHeading(a)));
}

/** The page of the guide for each section of the desk, and what it begins with there. */
const OF_SECTION: Record<string, readonly [page: string, heading: RegExp]> = {
  '': ['guide', /run sheet|house rules|Rehears/i],
  rehearsal: ['guide', /Rehears|run sheet/i],
  callouts: ['guide', /Writing a callout/i],
  launchers: ['guide-launchers', /./],
  inbox: ['guide-inbox', /./],
  leads: ['guide-asking', /./],
  ledger: ['guide', /Looking after events/i],
  audience: ['guide', /Segments|Audience|Who/i],
  install: ['guide', /Installing/i],
  team: ['guide-team', /./],
  account: ['guide-team', /account/i],
  developers: ['guide-team', /Machines/i],
};

/** What belongs to a page of the desk. */
export function forPath(parts: readonly GuidePart[], path: string): GuidePart[] {
  const [page, heading] = OF_SECTION[path.split('/')[1] ?? ''] ?? ['guide', /./];
  const own = parts.filter((p) => p.page === page && heading.test(p.heading));
  return own.length > 0 ? own : parts.filter((p) => p.page === page);
}

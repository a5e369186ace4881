import { createRootRoute, createRoute, createRouter, lazyRouteComponent } from '@tanstack/react-router';
import type { Listing } from '../callouts/listing';
import type { SheetSearch } from '../runsheet/api';
import { RunSheetPage } from '../runsheet/RunSheetPage';
import { Failed } from '../ui/Notice';
import type { PlannedPage, Visitor } from '../visits/model';
import { baseOf } from './address';
import { Shell } from './Shell';

const root = createRootRoute({
  component: Shell,
  notFoundComponent: () => <p className="p-6">There is no such page at the desk. Choose a section above.</p>,
  errorComponent: ({ error, reset }) => <Failed error={error} again={reset} />,
});

const text = (value: unknown) => (typeof value === 'string' && value ? value : undefined);

const runSheet = createRoute({
  getParentRoute: () => root,
  path: '/',
  validateSearch: (search): SheetSearch & { block?: string | undefined; lane?: string | undefined; panel?: 'rules' | undefined } => ({
    persona: text(search.persona) as SheetSearch['persona'],
    segment: text(search.segment),
    device: text(search.device) as SheetSearch['device'],
    language: text(search.language),
    at: text(search.at),
    trying: text(search.trying),
    block: text(search.block),
    lane: text(search.lane),
    panel: search.panel === 'rules' ? 'rules' : undefined,
  }),
  component: RunSheetPage,
});

const rehearsal = createRoute({
  getParentRoute: () => root,
  path: '/rehearsal',
  validateSearch: (
    search,
  ): { visitor?: Visitor | undefined; pages?: PlannedPage[] | undefined; at?: string | undefined; draft?: string | undefined } => ({
    visitor: typeof search.visitor === 'object' && search.visitor ? (search.visitor as Visitor) : undefined,
    pages: Array.isArray(search.pages) ? (search.pages as PlannedPage[]) : undefined,
    at: text(search.at),
    draft: text(search.draft),
  }),
  component: lazyRouteComponent(() => import('../rehearsal/RehearsalPage'), 'RehearsalPage'),
});

const callouts = createRoute({
  getParentRoute: () => root,
  path: '/callouts',
  validateSearch: (search): Listing => ({
    shelf: search.shelf === 'archived' || search.shelf === 'deleted' ? search.shelf : undefined,
    text: text(search.text),
    state: text(search.state) as Listing['state'],
    kind: text(search.kind) as Listing['kind'],
    sort: text(search.sort) as Listing['sort'],
    up: search.up === true || undefined,
  }),
  component: lazyRouteComponent(() => import('../callouts/CalloutsPage'), 'CalloutsPage'),
});

const composer = createRoute({
  getParentRoute: () => root,
  path: '/callouts/$calloutId',
  validateSearch: (search): { open?: string | undefined } => ({ open: text(search.open) }),
  component: lazyRouteComponent(() => import('../composer/ComposerPage'), 'ComposerPage'),
});

interface AudienceSearch {
  view?: 'segments' | 'visitors' | 'groups' | undefined;
  /** What lies open beside the list; "new" for one to be made. */
  id?: string | undefined;
  segment?: string | undefined;
  page?: string | undefined;
  skip?: number | undefined;
}

const audience = createRoute({
  getParentRoute: () => root,
  path: '/audience',
  validateSearch: (search): AudienceSearch => ({
    view: search.view === 'visitors' || search.view === 'groups' ? search.view : undefined,
    id: text(search.id),
    segment: text(search.segment),
    page: text(search.page),
    skip: typeof search.skip === 'number' && search.skip > 0 ? search.skip : undefined,
  }),
  component: lazyRouteComponent(() => import('../audience/AudiencePage'), 'AudiencePage'),
});

interface LedgerSearch {
  source?: string | undefined;
  kind?: string | undefined;
  state?: string | undefined;
  page?: string | undefined;
  text?: string | undefined;
  hours?: number | undefined;
  event?: string | undefined;
  /** What lies open beside the list, and which one. */
  panel?: 'event' | 'source' | 'add' | 'import' | 'erase' | 'care' | undefined;
  id?: string | undefined;
}

const ledger = createRoute({
  getParentRoute: () => root,
  path: '/ledger',
  validateSearch: (search): LedgerSearch => ({
    source: text(search.source),
    kind: text(search.kind),
    state: text(search.state),
    page: text(search.page),
    text: text(search.text),
    hours: typeof search.hours === 'number' ? search.hours : undefined,
    event: text(search.event),
    panel: text(search.panel) as LedgerSearch['panel'],
    id: text(search.id),
  }),
  component: lazyRouteComponent(() => import('../ledger/LedgerPage'), 'LedgerPage'),
});

const install = createRoute({
  getParentRoute: () => root,
  path: '/install',
  component: lazyRouteComponent(() => import('../install/InstallPage'), 'InstallPage'),
});

const routeTree = root.addChildren([runSheet, rehearsal, callouts, composer, audience, ledger, install]);

/** The pages of one site; its key stands before each of them in the address. */
export const routerOf = (siteKey: string) => createRouter({ routeTree, basepath: baseOf(siteKey), defaultPreload: 'intent' });

declare module '@tanstack/react-router' {
  interface Register {
    router: ReturnType<typeof routerOf>;
  }
}

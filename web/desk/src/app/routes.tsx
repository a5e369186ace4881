import { createRootRoute, createRoute, createRouter, lazyRouteComponent } from '@tanstack/react-router';
import type { Persona } from '../runsheet/api';
import { RunSheetPage } from '../runsheet/RunSheetPage';
import { Failed } from '../ui/Notice';
import { Gate } from './Gate';

const root = createRootRoute({
  component: Gate,
  notFoundComponent: () => <p className="p-6">There is no such page at the desk. Choose a section above.</p>,
  errorComponent: ({ error, reset }) => <Failed error={error} again={reset} />,
});

const text = (value: unknown) => (typeof value === 'string' && value ? value : undefined);

const runSheet = createRoute({
  getParentRoute: () => root,
  path: '/',
  validateSearch: (search): { persona?: Persona; block?: string; lane?: string; panel?: 'rules' } => ({
    persona: text(search.persona) as Persona | undefined,
    block: text(search.block),
    lane: text(search.lane),
    panel: search.panel === 'rules' ? 'rules' : undefined,
  }),
  component: RunSheetPage,
});

const callouts = createRoute({
  getParentRoute: () => root,
  path: '/callouts',
  validateSearch: (search): { archived?: boolean } => ({ archived: search.archived === true || undefined }),
  component: lazyRouteComponent(() => import('../callouts/CalloutsPage'), 'CalloutsPage'),
});

const composer = createRoute({
  getParentRoute: () => root,
  path: '/callouts/$calloutId',
  component: lazyRouteComponent(() => import('../composer/ComposerPage'), 'ComposerPage'),
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

export const router = createRouter({
  routeTree: root.addChildren([runSheet, callouts, composer, ledger, install]),
  defaultPreload: 'intent',
});

declare module '@tanstack/react-router' {
  interface Register {
    router: typeof router;
  }
}

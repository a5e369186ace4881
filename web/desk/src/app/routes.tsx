import { createRootRoute, createRoute, createRouter, lazyRouteComponent } from '@tanstack/react-router';
import type * as z from 'zod/mini';
import type { Listing } from '../callouts/listing';
import { Failed } from '../kit/Notice';
import type { SheetSearch } from '../runsheet/api';
import { RunSheetPage } from '../runsheet/RunSheetPage';
import type { Journey } from '../visits/model';
import { baseOf } from './address';
import { Shell } from './Shell';
import {
  audienceSearch,
  calloutsSearch,
  composerSearch,
  inboxSearch,
  launcherSearch,
  leadsSearch,
  ledgerSearch,
  rehearsalSearch,
  runSheetSearch,
  shelfSearch,
  teamSearch,
} from './search';

/** As an address has it: any part may be missing. */
type Unset<T> = { [K in keyof T]: T[K] | undefined };

const root = createRootRoute({
  component: Shell,
  notFoundComponent: () => <p className="p-6">There is no such page at the desk. Choose a section above.</p>,
  errorComponent: ({ error, reset }) => <Failed error={error} again={reset} />,
});

const runSheet = createRoute({
  getParentRoute: () => root,
  path: '/',
  validateSearch: (search): SheetSearch & Pick<z.output<typeof runSheetSearch>, 'block' | 'lane' | 'panel'> => runSheetSearch.parse(search),
  component: RunSheetPage,
});

const rehearsal = createRoute({
  getParentRoute: () => root,
  path: '/rehearsal',
  validateSearch: (search): Partial<Unset<Journey>> => rehearsalSearch.parse(search),
  component: lazyRouteComponent(() => import('../rehearsal/RehearsalPage'), 'RehearsalPage'),
});

const callouts = createRoute({
  getParentRoute: () => root,
  path: '/callouts',
  validateSearch: (search): Listing => calloutsSearch.parse(search),
  component: lazyRouteComponent(() => import('../callouts/CalloutsPage'), 'CalloutsPage'),
});

const composer = createRoute({
  getParentRoute: () => root,
  path: '/callouts/$calloutId',
  validateSearch: (search) => composerSearch.parse(search),
  component: lazyRouteComponent(() => import('../composer/ComposerPage'), 'ComposerPage'),
});

const launchers = createRoute({
  getParentRoute: () => root,
  path: '/launchers',
  validateSearch: (search) => shelfSearch.parse(search),
  component: lazyRouteComponent(() => import('../launchers/LaunchersPage'), 'LaunchersPage'),
});

const launcher = createRoute({
  getParentRoute: () => root,
  path: '/launchers/$launcherId',
  validateSearch: (search) => launcherSearch.parse(search),
  component: lazyRouteComponent(() => import('../launchers/LauncherPage'), 'LauncherPage'),
});

const audience = createRoute({
  getParentRoute: () => root,
  path: '/audience',
  validateSearch: (search) => audienceSearch.parse(search),
  component: lazyRouteComponent(() => import('../audience/AudiencePage'), 'AudiencePage'),
});

const ledger = createRoute({
  getParentRoute: () => root,
  path: '/ledger',
  validateSearch: (search) => ledgerSearch.parse(search),
  component: lazyRouteComponent(() => import('../ledger/LedgerPage'), 'LedgerPage'),
});

const scripts = createRoute({
  getParentRoute: () => root,
  path: '/scripts',
  validateSearch: (search) => shelfSearch.parse(search),
  component: lazyRouteComponent(() => import('../scripts/ScriptsPage'), 'ScriptsPage'),
});

const followUps = createRoute({
  getParentRoute: () => root,
  path: '/followups',
  validateSearch: (search) => shelfSearch.parse(search),
  component: lazyRouteComponent(() => import('../followups/FollowUpsPage'), 'FollowUpsPage'),
});

const followUp = createRoute({
  getParentRoute: () => root,
  path: '/followups/$followUpId',
  component: lazyRouteComponent(() => import('../followups/FollowUpPage'), 'FollowUpPage'),
});

const script = createRoute({
  getParentRoute: () => root,
  path: '/scripts/$scriptId',
  component: lazyRouteComponent(() => import('../scripts/ScriptPage'), 'ScriptPage'),
});

const inbox = createRoute({
  getParentRoute: () => root,
  path: '/inbox',
  validateSearch: (search) => inboxSearch.parse(search),
  component: lazyRouteComponent(() => import('../inbox/InboxPage'), 'InboxPage'),
});

const leads = createRoute({
  getParentRoute: () => root,
  path: '/leads',
  validateSearch: (search) => leadsSearch.parse(search),
  component: lazyRouteComponent(() => import('../leads/LeadsPage'), 'LeadsPage'),
});

const team = createRoute({
  getParentRoute: () => root,
  path: '/team',
  validateSearch: (search) => teamSearch.parse(search),
  component: lazyRouteComponent(() => import('../team/TeamPage'), 'TeamPage'),
});

const account = createRoute({
  getParentRoute: () => root,
  path: '/account',
  component: lazyRouteComponent(() => import('../account/AccountPage'), 'AccountPage'),
});

const developers = createRoute({
  getParentRoute: () => root,
  path: '/developers',
  component: lazyRouteComponent(() => import('../developers/DevelopersPage'), 'DevelopersPage'),
});

const install = createRoute({
  getParentRoute: () => root,
  path: '/install',
  component: lazyRouteComponent(() => import('../install/InstallPage'), 'InstallPage'),
});

const routeTree = root.addChildren([
  runSheet,
  rehearsal,
  callouts,
  composer,
  launchers,
  launcher,
  audience,
  ledger,
  scripts,
  followUps,
  followUp,
  script,
  inbox,
  leads,
  team,
  account,
  developers,
  install,
]);

/** The pages of one site; its key stands before each of them in the address. */
export const routerOf = (siteKey: string) => createRouter({ routeTree, basepath: baseOf(siteKey), defaultPreload: 'intent' });

declare module '@tanstack/react-router' {
  interface Register {
    router: ReturnType<typeof routerOf>;
  }
}

import { useQuery } from '@tanstack/react-query';
import { useNavigate } from '@tanstack/react-router';
import { Command } from 'cmdk';
import { Dialog } from 'radix-ui';
import type { ReactNode } from 'react';
import { launchersQuery } from '../callouts/greetings';
import { calloutsQuery, segmentsQuery, sourcesQuery } from '../catalogue/api';
import { readGuide } from '../help/guide';
import { type Right, signOut, sitesQuery } from '../session/api';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';

const APART = ' #';

/** Every word typed is part of a name, or of what else somebody might call it. */
export function fits(value: string, typed: string, also: readonly string[] = []): number {
  const words = `${value.slice(0, value.lastIndexOf(APART))} ${also.join(' ')}`.toLowerCase();
  return typed
    .toLowerCase()
    .split(/\s+/)
    .every((word) => words.includes(word))
    ? 1
    : 0;
}

/** Finds what the site has by its name, and what can be done by its words. */
export function FindOrDoBox({ onClose, onHelp }: { onClose(): void; onHelp(about: string): void }) {
  const { site, member, chooseSite } = useDesk();
  const may = (right: Right) => mayAct(member, right);
  const sees = may('see');
  const navigate = useNavigate();
  const callouts = useQuery({ ...calloutsQuery(site.id), enabled: sees });
  const launchers = useQuery({ ...launchersQuery(site.id), enabled: sees });
  const sources = useQuery({ ...sourcesQuery(site.id), enabled: sees });
  const segments = useQuery({ ...segmentsQuery(site.id), enabled: sees });
  const sites = useQuery(sitesQuery);
  const guide = useQuery({ queryKey: ['guide'], queryFn: readGuide, staleTime: Number.POSITIVE_INFINITY });
  const failed = [callouts, launchers, sources, segments, sites].some((q) => q.isError);
  const doing = [callouts, launchers, sources, segments, sites].some((q) => q.isLoading);
  const go = (act: () => unknown) => () => {
    onClose();
    act();
  };
  return (
    <Dialog.Root open modal={false} onOpenChange={(on) => !on && onClose()}>
      <Dialog.Portal>
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-14 left-1/2 z-50 w-[560px] max-w-[calc(100vw-24px)] -translate-x-1/2 rounded border border-ink bg-sheet shadow-lg"
        >
          <Dialog.Title className="sr-only">Find or do</Dialog.Title>
          <Command loop label="Find or do" filter={fits}>
            <Command.Input
              placeholder="A callout, a source, a page of the desk, or what you want to do"
              className="w-full border-b border-ink bg-transparent px-4 py-3 text-[16px] outline-none"
            />
            <Command.List className="max-h-[60vh] overflow-auto p-1">
              <Command.Empty className="px-3 py-4 text-soft">
                {doing ? 'Fetching what there is' : 'Nothing here is called that. Try a part of a name, or “new”.'}
              </Command.Empty>
              {failed && (
                <p role="alert" className="px-3 py-2 text-[12px] text-warn">
                  Some of the site’s own things could not be fetched, so they are missing here.
                </p>
              )}
              <Group name="Do">
                {may('draft') && (
                  <Item onDo={go(() => navigate({ to: '/callouts' }))} also="callout notification make">
                    Begin a callout
                  </Item>
                )}
                {may('connect') && (
                  <Item onDo={go(() => navigate({ to: '/ledger', search: { panel: 'add' } }))} also="listen form webhook shop feed">
                    Add a source
                  </Item>
                )}
                {may('connect') && (
                  <Item onDo={go(() => navigate({ to: '/ledger', search: { panel: 'import' } }))} also="csv file upload events">
                    Import events
                  </Item>
                )}
                {may('draft') && (
                  <Item onDo={go(() => navigate({ to: '/rehearsal' }))} also="try visitor imagine">
                    Rehearse a visit
                  </Item>
                )}
                {may('publish') && (
                  <Item onDo={go(() => navigate({ to: '/', search: { panel: 'rules' } }))} also="limits gap quiet pages at most">
                    Change the house rules
                  </Item>
                )}
                {may('draft') && (
                  <Item onDo={go(() => navigate({ to: '/audience', search: { view: 'segments', id: 'new' } }))} also="visitors rule group">
                    Make a segment
                  </Item>
                )}
                {may('govern') && (
                  <Item onDo={go(() => navigate({ to: '/ledger', search: { panel: 'erase' } }))} also="privacy delete forget">
                    Erase a person
                  </Item>
                )}
                {may('govern') && (
                  <Item onDo={go(() => navigate({ to: '/team', search: { panel: 'invite' } }))} also="member colleague add person role">
                    Invite somebody
                  </Item>
                )}
                {may('publish') && (
                  <Item onDo={go(() => navigate({ to: '/team', search: { view: 'kit' } }))} also="colours look side font logo tone">
                    Change the brand kit
                  </Item>
                )}
                {may('see') && (
                  <Item
                    onDo={go(() => navigate({ to: '/team', search: { view: 'library' } }))}
                    also="shared pictures segments words used by"
                  >
                    See what is shared
                  </Item>
                )}
                {may('govern') && (
                  <Item
                    onDo={go(() => navigate({ to: '/team', search: { view: 'house' } }))}
                    also="export import copy site move backup state"
                  >
                    Move house, copy a site
                  </Item>
                )}
                {may('govern') && (
                  <Item onDo={go(() => navigate({ to: '/team', search: { view: 'tokens' } }))} also="api key machine program">
                    Make a token
                  </Item>
                )}
                <Item onDo={go(() => navigate({ to: '/account' }))} also="password second factor passkey sessions account">
                  Change how you sign in
                </Item>
                <Item onDo={go(() => void signOut().then(() => location.assign('/')))} also="log out leave">
                  Sign out
                </Item>
              </Group>
              <Group name="Go to">
                {may('see') && (
                  <Item onDo={go(() => navigate({ to: '/' }))} also="home lanes">
                    Run sheet
                  </Item>
                )}
                {may('see') && <Item onDo={go(() => navigate({ to: '/callouts' }))}>Callouts</Item>}
                {may('see') && (
                  <Item onDo={go(() => navigate({ to: '/launchers' }))} also="chat talk greeting contact button">
                    Launchers
                  </Item>
                )}
                {may('see') && (
                  <Item onDo={go(() => navigate({ to: '/scripts' }))} also="questions steps bot ask qualify book">
                    Scripts
                  </Item>
                )}
                {may('see') && (
                  <Item onDo={go(() => navigate({ to: '/followups' }))} also="series mails letters drip sequence">
                    Follow-ups
                  </Item>
                )}
                {may('answer') && (
                  <Item onDo={go(() => navigate({ to: '/inbox' }))} also="talks chat messages answer reply">
                    Inbox
                  </Item>
                )}
                {may('answer') && (
                  <Item onDo={go(() => navigate({ to: '/leads' }))} also="people addresses subscribers e-mail phone codes rewards">
                    Leads
                  </Item>
                )}
                <Item onDo={go(() => navigate({ to: '/ledger' }))} also="events">
                  Ledger
                </Item>
                <Item onDo={go(() => navigate({ to: '/audience' }))} also="visitors segments page groups">
                  Audience
                </Item>
                <Item onDo={go(() => navigate({ to: '/developers' }))} also="api interface openapi reference d.ts types program">
                  For developers
                </Item>
                <Item onDo={go(() => navigate({ to: '/team' }))} also="members colleagues roles activity who">
                  Team
                </Item>
                {may('see') && (
                  <Item onDo={go(() => navigate({ to: '/install' }))} also="snippet script line keys">
                    Install
                  </Item>
                )}
              </Group>
              <Group name="Callouts">
                {callouts.data?.map((c) => (
                  <Item
                    key={c.id}
                    id={c.id}
                    onDo={go(() => navigate({ to: '/callouts/$calloutId', params: { calloutId: c.id } }))}
                    aside={c.stands}
                  >
                    {c.name}
                  </Item>
                ))}
              </Group>
              <Group name="Launchers">
                {launchers.data?.map((l) => (
                  <Item
                    key={l.id}
                    id={l.id}
                    onDo={go(() => navigate({ to: '/launchers/$launcherId', params: { launcherId: l.id } }))}
                    aside={l.state}
                  >
                    {l.name}
                  </Item>
                ))}
              </Group>
              <Group name="Sources">
                {sources.data?.map((s) => (
                  <Item key={s.id} id={s.id} onDo={go(() => navigate({ to: '/ledger', search: { panel: 'source', id: s.id } }))}>
                    {s.name}
                  </Item>
                ))}
              </Group>
              <Group name="Segments">
                {segments.data?.map((s) => (
                  <Item key={s.id} id={s.id} onDo={go(() => navigate({ to: '/audience', search: { view: 'segments', id: s.id } }))}>
                    {s.name}
                  </Item>
                ))}
              </Group>
              <Group name="In the guide">
                {guide.data?.map((part) => (
                  <Item
                    key={`${part.page}:${part.heading}`}
                    id={`${part.page}:${part.heading}`}
                    onDo={go(() => onHelp(part.heading))}
                    also="help how"
                  >
                    {part.heading}
                  </Item>
                ))}
              </Group>
              <Group name="Sites">
                {sites.data
                  ?.filter((s) => s.id !== site.id)
                  .map((s) => (
                    <Item key={s.id} id={s.id} onDo={go(() => chooseSite(s.key))}>
                      {s.name}
                    </Item>
                  ))}
              </Group>
            </Command.List>
          </Command>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

const Group = ({ name, children }: { name: string; children: ReactNode }) => (
  <Command.Group
    heading={name}
    className="[&_[cmdk-group-heading]]:px-3 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:pb-1 [&_[cmdk-group-heading]]:text-[12px] [&_[cmdk-group-heading]]:font-semibold [&_[cmdk-group-heading]]:text-soft"
  >
    {children}
  </Command.Group>
);

/** Found by its words, and by others that somebody might think of first. */
function Item({
  children,
  id,
  also,
  aside,
  onDo,
}: {
  children: string;
  /** Tells two of the same name apart. */
  id?: string;
  also?: string;
  aside?: string;
  onDo(): void;
}) {
  return (
    <Command.Item
      value={`${children}${APART}${id ?? ''}`}
      keywords={also?.split(' ') ?? []}
      onSelect={onDo}
      className="flex min-h-8 cursor-pointer items-center rounded px-3 max-sm:min-h-11 data-[selected=true]:bg-selectwash"
    >
      {children}
      {aside && <span className="ms-auto text-[12px] text-soft">{aside}</span>}
    </Command.Item>
  );
}

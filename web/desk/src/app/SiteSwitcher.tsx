import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { ChevronsUpDown } from 'lucide-react';
import { Dialog, DropdownMenu } from 'radix-ui';
import { type FormEvent, Fragment, useState } from 'react';
import { Refusal, type Schema } from '../data/api';
import { Button } from '../kit/Button';
import { SelectField, TextField } from '../kit/Field';
import { LANGUAGES, languageName } from '../kit/languages';
import { Refused } from '../kit/Panel';
import { withScheme } from '../kit/scheme';
import { clock, day } from '../kit/time';
import { addSite, changeSite, removedSitesQuery, removeSite, restoreSite, type Site, sitesQuery } from '../session/api';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';

const ITEM = 'flex min-h-8 cursor-pointer items-center gap-3 rounded px-2 outline-none data-[highlighted]:bg-selectwash';

/** Which site one looks at, among those of the workspace; and the way to another one. */
export function SiteSwitcher() {
  const { site, member, workspace, chooseSite } = useDesk();
  const { data: sites } = useQuery(sitesQuery);
  const here = sites?.filter((s) => s.workspaceId === workspace.id);
  const others = member.workspaces.filter((w) => w.id !== workspace.id);
  const [open, setOpen] = useState<'new' | 'this'>();
  const mayEdit = mayAct(member, 'connect');
  return (
    <>
      <DropdownMenu.Root modal={false}>
        <DropdownMenu.Trigger
          aria-label={`Site: ${site.name}`}
          className="flex min-h-8 max-w-52 items-center gap-1.5 rounded px-1 font-semibold whitespace-nowrap hover:bg-sheet2 max-sm:max-w-24"
        >
          <span className="overflow-hidden text-ellipsis">{site.name}</span>{' '}
          <ChevronsUpDown className="h-3.5 w-3.5 flex-none" aria-hidden="true" />
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content align="start" sideOffset={6} className="z-50 min-w-64 rounded border border-ink bg-sheet p-1 shadow-lg">
            <DropdownMenu.RadioGroup value={site.key} onValueChange={(key) => chooseSite(key)}>
              {here?.map((s) => (
                <DropdownMenu.RadioItem key={s.id} value={s.key} className={`${ITEM} data-[state=checked]:font-semibold`}>
                  {s.name} <span className="ms-auto text-[12px] font-normal text-soft">{new URL(s.homeAddress).host}</span>
                </DropdownMenu.RadioItem>
              ))}
              {others.map((other) => (
                <Fragment key={other.id}>
                  <DropdownMenu.Label className="mt-1 border-t border-hair px-2 pt-2 text-[12px] leading-4 text-soft">
                    {other.name}
                  </DropdownMenu.Label>
                  {sites
                    ?.filter((s) => s.workspaceId === other.id)
                    .map((s) => (
                      <DropdownMenu.RadioItem key={s.id} value={s.key} className={ITEM}>
                        {s.name} <span className="ms-auto text-[12px] font-normal text-soft">{new URL(s.homeAddress).host}</span>
                      </DropdownMenu.RadioItem>
                    ))}
                </Fragment>
              ))}
            </DropdownMenu.RadioGroup>
            {mayEdit && (
              <>
                <DropdownMenu.Separator className="my-1 h-px bg-hair" />
                <DropdownMenu.Item className={ITEM} onSelect={() => setOpen('this')}>
                  Site settings
                </DropdownMenu.Item>
                <DropdownMenu.Item className={ITEM} onSelect={() => setOpen('new')}>
                  Add a site
                </DropdownMenu.Item>
              </>
            )}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      <Dialog.Root open={!!open} onOpenChange={(on) => !on && setOpen(undefined)} modal={false}>
        <Dialog.Portal>
          {open && (
            <Dialog.Content
              aria-describedby={undefined}
              className="fixed top-14 left-4 z-50 w-[400px] max-w-[calc(100vw-32px)] rounded border border-ink bg-sheet p-4 shadow-lg"
            >
              <Dialog.Title className="mb-3 text-[16px] leading-6">{open === 'new' ? 'Add a site' : 'Site settings'}</Dialog.Title>
              <SiteForm
                workspaceId={workspace.id}
                site={open === 'this' ? site : undefined}
                onSaved={(saved) => {
                  setOpen(undefined);
                  if (saved.key !== site.key) chooseSite(saved.key);
                }}
                onClose={() => setOpen(undefined)}
              />
              {open === 'this' && mayAct(member, 'govern') && (
                <RemoveSite
                  site={site}
                  isOnly={(here?.length ?? 0) < 2}
                  onRemoved={() => {
                    setOpen(undefined);
                    const next = here?.find((s) => s.id !== site.id);
                    if (next) chooseSite(next.key);
                  }}
                />
              )}
              {open === 'new' && mayAct(member, 'govern') && (
                <RemovedSites
                  workspaceId={workspace.id}
                  onBack={(key) => {
                    setOpen(undefined);
                    chooseSite(key);
                  }}
                />
              )}
            </Dialog.Content>
          )}
        </Dialog.Portal>
      </Dialog.Root>
    </>
  );
}

/** The way out of a site: its name typed, and a day to think better of it. */
function RemoveSite({ site, isOnly, onRemoved }: { site: Site; isOnly: boolean; onRemoved(): void }) {
  const queries = useQueryClient();
  const [asked, setAsked] = useState(false);
  const [typed, setTyped] = useState('');
  const remove = useMutation({
    mutationFn: () => removeSite(site.id, typed),
    onSuccess: () => {
      // Away from it first: of what is gone nothing is to be asked.
      onRemoved();
      for (const key of ['sites', 'removed-sites']) void queries.invalidateQueries({ queryKey: [key] });
    },
  });
  return (
    <div className="mt-4 grid gap-2 border-t border-hair pt-3">
      {isOnly ? (
        <p className="text-[12px] leading-4 text-soft">The workspace’s only site cannot be removed.</p>
      ) : asked ? (
        <form
          className="grid gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            remove.mutate();
          }}
        >
          <p>
            Visitors see nothing of it from now on. For a day it can be taken back as it was, under “Add a site”; then it is gone with its
            callouts, events and visits.
          </p>
          <TextField label={`Type its name, ${site.name}`} value={typed} autoFocus onChange={(e) => setTyped(e.currentTarget.value)} />
          <Refused error={remove.error} />
          <p className="flex gap-2">
            <Button kind="danger" type="submit" disabled={typed.trim() !== site.name || remove.isPending}>
              Remove {site.name}
            </Button>
            <Button onClick={() => setAsked(false)}>Cancel</Button>
          </p>
        </form>
      ) : (
        <p>
          <Button kind="danger" onClick={() => setAsked(true)}>
            Remove this site
          </Button>
        </p>
      )}
    </div>
  );
}

/** Sites removed within the last day, each with the way back. */
function RemovedSites({ workspaceId, onBack }: { workspaceId: string; onBack(siteKey: string): void }) {
  const queries = useQueryClient();
  const { data: removed } = useQuery(removedSitesQuery(workspaceId));
  const restore = useMutation({
    mutationFn: (removedId: string) => restoreSite(workspaceId, removedId),
    onSuccess: async (site) => {
      await queries.invalidateQueries({ queryKey: ['sites'] });
      await queries.invalidateQueries({ queryKey: ['removed-sites'] });
      onBack(site.key);
    },
  });
  if (!removed?.length) return null;
  return (
    <section className="mt-4 grid gap-1 border-t border-hair pt-3">
      <h3 className="font-sans text-[13px] font-semibold tracking-normal">Removed a short while ago</h3>
      {removed.map((site) => (
        <p key={site.id} className="flex items-center gap-2">
          <span className="min-w-0 flex-1">
            {site.name}
            <span className="block text-[12px] leading-4 text-soft">
              by {site.removedBy}; gone for good on {day(site.goneAt)}, {clock(site.goneAt)}
            </span>
          </span>
          <Button onClick={() => restore.mutate(site.id)} disabled={restore.isPending}>
            Restore site
          </Button>
        </p>
      ))}
      <Refused error={restore.error} />
    </section>
  );
}

const ZONES = Intl.supportedValuesOf('timeZone');
const KNOWN: readonly string[] = LANGUAGES;
const OTHER = 'other';

/** The browser's own language, without its region. */
const own = () => navigator.language.split('-')[0] ?? 'en';

/** Name, address, time zone and language of a site; a new one takes the browser's own zone. */
export function SiteForm({
  workspaceId,
  site,
  onSaved,
  onClose,
}: {
  workspaceId: string;
  site: Site | undefined;
  onSaved(site: Site): void;
  onClose?(): void;
}) {
  const queries = useQueryClient();
  const save = useMutation({
    mutationFn: (typed: Schema<'SiteRequest'>) => (site ? changeSite(site.id, typed) : addSite(workspaceId, typed)),
    onSuccess: async (saved) => {
      await queries.invalidateQueries({ queryKey: ['sites'] });
      onSaved(saved);
    },
  });
  const [language, setLanguage] = useState(() =>
    KNOWN.includes(site?.language ?? own()) ? (site?.language ?? own()) : site ? OTHER : 'en',
  );
  const zone = site?.timeZone ?? Intl.DateTimeFormat().resolvedOptions().timeZone;
  const wrong = save.error instanceof Refusal ? save.error : undefined;
  const error = (field: string) => (wrong?.field === field ? wrong.message : undefined);
  function submit(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const typed = new FormData(event.currentTarget);
    const text = (name: string) => String(typed.get(name)).trim();
    save.mutate({
      name: text('name'),
      homeAddress: withScheme(text('homeAddress')),
      timeZone: text('timeZone'),
      language: language === OTHER ? text('language') : language,
    });
  }
  return (
    <form onSubmit={submit} className="grid gap-3" noValidate>
      <TextField label="Name" name="name" defaultValue={site?.name} error={error('name')} autoFocus maxLength={80} />
      <TextField
        label="Address"
        name="homeAddress"
        inputMode="url"
        placeholder="shop.example"
        hint="A host is enough."
        defaultValue={site?.homeAddress}
        error={error('homeAddress')}
      />
      <label className="grid gap-1">
        <span className="font-semibold">Time zone</span>
        <select name="timeZone" defaultValue={zone} className="w-full">
          {(ZONES.includes(zone) ? ZONES : [zone, ...ZONES]).map((z) => (
            <option key={z}>{z}</option>
          ))}
        </select>
        <span className="text-[12px] leading-4 text-soft">Dates and hours of everything on this site follow it.</span>
        {error('timeZone') && <span className="text-[12px] leading-4 text-bad">{error('timeZone')}</span>}
      </label>
      <SelectField
        label="Language"
        value={language}
        choices={[...KNOWN.map((l) => [l, languageName(l)] as const), [OTHER, 'Another one'] as const]}
        onChoose={setLanguage}
      />
      {language === OTHER && (
        <TextField
          label="Which one"
          name="language"
          defaultValue={site?.language}
          placeholder="pt-BR"
          hint="As a language tag: sv, pt-BR."
          error={error('language')}
        />
      )}
      {!wrong?.field && <Refused error={save.error} />}
      <p className="flex gap-2">
        <Button type="submit" kind="primary" disabled={save.isPending}>
          {site ? 'Save site' : 'Add site'}
        </Button>
        {onClose && <Button onClick={onClose}>Cancel</Button>}
      </p>
    </form>
  );
}

import { Button } from '../kit/Button';
import { TextField } from '../kit/Field';
import { LANGUAGES, languageName } from '../kit/languages';
import { withScheme } from '../kit/scheme';
import { openWorkspace } from './api';
import { Door, useRefusal, Wrong } from './Door';
import { PasswordField } from './PasswordField';

const ZONES = Intl.supportedValuesOf('timeZone');
const FIELDS = ['key', 'workspace', 'homeAddress', 'name', 'email', 'password', 'timeZone', 'language'] as const;

/** The first minutes: a workspace, its first site, its owner. `confirmed` is what a mail of ours confirmed an address with. */
export function Opening({ confirmed }: { confirmed: string | undefined }) {
  const refusal = useRefusal();
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const own = navigator.language.split('-')[0] ?? 'en';
  const error = (field: (typeof FIELDS)[number]) => refusal.of(field);
  return (
    <Door
      wide
      title="Open your workspace"
      words="One company, one site to begin with, one owner: you. Everything here can be changed later."
    >
      <form
        noValidate
        className="grid gap-4"
        onSubmit={refusal.run(async (text) => {
          const site = await openWorkspace({
            key: confirmed ?? text('key'),
            workspace: text('workspace'),
            homeAddress: withScheme(text('homeAddress').trim()),
            timeZone: text('timeZone'),
            language: text('language'),
            name: text('name'),
            email: text('email'),
            password: text('password'),
          });
          location.assign(`/s/${site.key}/`);
        })}
      >
        {!confirmed && (
          <TextField
            label="Key of the house"
            name="key"
            autoComplete="off"
            autoFocus
            error={error('key')}
            hint="Printed where Outcry was started. It opens the first workspace, once."
          />
        )}
        <TextField label="Company" name="workspace" autoComplete="organization" autoFocus={!!confirmed} error={error('workspace')} />
        <TextField
          label="Site"
          name="homeAddress"
          inputMode="url"
          placeholder="shop.example"
          error={error('homeAddress')}
          hint="The address of its first page; a host is enough."
        />
        <div className="grid grid-cols-2 gap-3 max-sm:grid-cols-1">
          <label className="grid min-w-0 gap-1">
            <span className="font-semibold">Time zone</span>
            <select name="timeZone" defaultValue={zone} className="w-full min-w-0">
              {(ZONES.includes(zone) ? ZONES : [zone, ...ZONES]).map((z) => (
                <option key={z}>{z}</option>
              ))}
            </select>
          </label>
          <label className="grid min-w-0 gap-1">
            <span className="font-semibold">Language of the site</span>
            <select name="language" defaultValue={(LANGUAGES as readonly string[]).includes(own) ? own : 'en'} className="w-full min-w-0">
              {LANGUAGES.map((l) => (
                <option key={l} value={l}>
                  {languageName(l)}
                </option>
              ))}
            </select>
          </label>
        </div>
        <hr className="border-hair" />
        <TextField label="Your name" name="name" autoComplete="name" error={error('name')} hint="As colleagues will read it." />
        {!confirmed && <TextField label="Your e-mail" name="email" type="email" autoComplete="username" error={error('email')} />}
        <PasswordField label="Password" name="password" error={error('password')} />
        <Wrong>{refusal.other(FIELDS)}</Wrong>
        <Button kind="primary" type="submit" disabled={refusal.busy}>
          {refusal.busy ? 'Opening' : 'Open the workspace'}
        </Button>
      </form>
    </Door>
  );
}

import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from '../kit/Button';
import { TextField } from '../kit/Field';
import { Refused } from '../kit/Panel';
import { plural } from '../kit/plural';
import { withScheme } from '../kit/scheme';
import { useRefusal, Wrong } from '../session/Door';
import { useDesk } from '../session/desk';
import { bundleFile, copySite, type TakenIn, takeIn } from './api';

/** Taking the workspace out as one document, taking one in after a look, copying a site for trying things. */
export function MovingSection() {
  const { workspace } = useDesk();
  const queries = useQueryClient();
  const [file, setFile] = useState<File>();
  const look = useMutation({ mutationFn: (chosen: File) => takeIn(workspace.id, chosen, true) });
  const take = useMutation({
    mutationFn: (chosen: File) => takeIn(workspace.id, chosen, false),
    onSuccess: () => void queries.invalidateQueries(),
  });
  return (
    <section aria-label="Moving house" className="grid max-w-[820px] content-start gap-4 p-4">
      <h2 className="text-[17px] leading-6">Moving house</h2>
      <p>
        One document holds what the team made: sites with their rules, page groups, segments, sources, pictures, callouts and launchers with
        their revisions. It holds no visitors, no events, no people and no secrets.
      </p>
      <p>
        <a
          className="inline-flex min-h-8 items-center rounded border border-ink bg-sheet px-3 font-semibold hover:bg-sheet2"
          href={bundleFile(workspace.id)}
          download="outcry-bundle.json"
        >
          Take the workspace out
        </a>
      </p>
      <label className="grid gap-1">
        <span className="font-semibold">Take one in</span>
        <input
          type="file"
          accept="application/json,.json"
          onChange={(e) => {
            const chosen = e.currentTarget.files?.[0];
            setFile(chosen);
            take.reset();
            if (chosen) look.mutate(chosen);
          }}
        />
        <span className="text-[12px] leading-4 text-soft">First you see what would come of it; nothing is changed by choosing a file.</span>
      </label>
      <Refused error={look.error ?? take.error} />
      {look.data && file && !take.data && (
        <>
          <Outcome taken={look.data} />
          <p>
            <Button kind="primary" disabled={take.isPending} onClick={() => take.mutate(file)}>
              {take.isPending ? 'Taking it in' : 'Take it in'}
            </Button>
          </p>
        </>
      )}
      {take.data && (
        <>
          <p role="status" className="font-semibold text-good">
            It is in. Nothing of it is live.
          </p>
          <Outcome taken={take.data} />
        </>
      )}
      <CopySite />
    </section>
  );
}

function Outcome({ taken }: { taken: TakenIn }) {
  return (
    <div className="grid gap-2">
      <p>{plural(taken.same, 'thing')} here already as they are.</p>
      <Lines title={taken.dryRun ? 'Would be new' : 'New'} lines={taken.new} />
      <Lines title="Differs" lines={taken.differs} />
      <Lines title="Missing" lines={taken.missing} />
    </div>
  );
}

function Lines({ title, lines }: { title: string; lines: readonly string[] }) {
  if (lines.length === 0) return null;
  return (
    <div>
      <h3 className="font-sans text-[13px] font-semibold tracking-normal">{title}</h3>
      <ul className="max-h-[220px] list-disc overflow-auto ps-5" tabIndex={0}>
        {lines.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ul>
    </div>
  );
}

function CopySite() {
  const { site } = useDesk();
  const refusal = useRefusal();
  return (
    <form
      noValidate
      className="grid max-w-[420px] gap-3 border-t border-ink pt-4"
      onSubmit={refusal.run(async (text) => {
        const { site: copy } = await copySite(site.id, text('name'), withScheme(text('homeAddress').trim()));
        location.assign(`/s/${copy.key}/`);
      })}
    >
      <h2 className="text-[17px] leading-6">A copy of {site.name}, for trying things</h2>
      <p>It has everything that was made here and nothing that happened; nothing of it is live, and no source listens until you say so.</p>
      <TextField label="Name" name="name" defaultValue={`${site.name}, copy`} maxLength={80} error={refusal.of('name')} />
      <TextField label="Address" name="homeAddress" placeholder="staging.shop.example" error={refusal.of('homeAddress')} />
      <Wrong>{refusal.other(['name', 'homeAddress'])}</Wrong>
      <p>
        <Button type="submit" disabled={refusal.busy}>
          {refusal.busy ? 'Copying' : 'Copy the site'}
        </Button>
      </p>
    </form>
  );
}

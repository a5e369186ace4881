import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from '../kit/Button';
import { Code } from '../kit/Copy';
import { TextField } from '../kit/Field';
import { Panel, Section } from '../kit/Panel';
import type { Role } from '../session/api';
import { useRefusal, Wrong } from '../session/Door';
import { useDesk } from '../session/desk';
import { ROLE_WORDS } from '../session/model';
import { invite, type Team } from './api';

const WHAT: Record<Role, string> = {
  owner: 'everything, and who is in the team',
  publisher: 'drafts, puts live, connects sources',
  editor: 'drafts and rehearses; others put it live',
  responder: 'answers visitors and sees who they are',
  viewer: 'looks, and changes nothing',
};

/** Asks somebody to join: an address, a role, and the link where no mail goes out. */
export function InvitePanel({ team, onClose }: { team: Team; onClose(): void }) {
  const { workspace } = useDesk();
  const queries = useQueryClient();
  const refusal = useRefusal();
  const [role, setRole] = useState<Role>('editor');
  const [made, setMade] = useState<{ email: string; link: string; mailed: boolean }>();
  return (
    <Panel label="Invite somebody" title="Invite somebody" onClose={onClose}>
      {made ? (
        <Section>
          <p role="status">
            {made.mailed ? `A mail is on its way to ${made.email}.` : `No mail went out. Send this link to ${made.email} yourself:`}
          </p>
          <Code copy={made.link}>{made.link}</Code>
          <p className="text-[12px] leading-4 text-soft">It holds for seven days, works once, and for that address alone.</p>
          <p className="flex gap-2">
            <Button onClick={() => setMade(undefined)}>Invite another</Button>
            <Button kind="primary" onClick={onClose}>
              Done
            </Button>
          </p>
        </Section>
      ) : (
        <Section>
          <form
            noValidate
            className="grid gap-4"
            onSubmit={refusal.run(async (text) => {
              const answer = await invite(workspace.id, text('email'), role);
              setMade({ email: answer.invitation.email, link: answer.link, mailed: answer.mailed });
              await queries.invalidateQueries({ queryKey: ['team', workspace.id] });
            })}
          >
            <TextField
              label="E-mail"
              name="email"
              type="email"
              autoFocus
              error={refusal.of('email')}
              hint={team.hasMail ? 'A link goes there by mail.' : 'This desk has no mail server: you get a link to send.'}
            />
            <fieldset className="grid gap-1">
              <legend className="mb-1 font-semibold">As what</legend>
              {(Object.keys(WHAT) as Role[]).map((r) => (
                <label key={r} className="flex gap-2 py-1">
                  <input type="radio" name="role" className="mt-0.5" checked={r === role} onChange={() => setRole(r)} />
                  <span>
                    {ROLE_WORDS[r]}
                    <span className="block text-[12px] leading-4 text-soft">{WHAT[r]}</span>
                  </span>
                </label>
              ))}
            </fieldset>
            <Wrong>{refusal.other(['email'])}</Wrong>
            <Button type="submit" kind="primary" disabled={refusal.busy}>
              Invite
            </Button>
          </form>
        </Section>
      )}
    </Panel>
  );
}

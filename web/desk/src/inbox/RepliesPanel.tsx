import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from '../kit/Button';
import { TextField } from '../kit/Field';
import { Fetched } from '../kit/Notice';
import { Panel, Refused, Section } from '../kit/Panel';
import { useDesk } from '../session/desk';
import { addReply, changeReply, removeReply, repliesQuery, type SavedReply } from './api';

/** Saved replies: what is typed after "/" and what it stands for. */
export function RepliesPanel({ onClose }: { onClose(): void }) {
  const { site } = useDesk();
  const list = useQuery(repliesQuery(site.id));
  const [open, setOpen] = useState<string>();
  return (
    <Panel label="Saved replies" title="Saved replies" wide onClose={onClose}>
      <Fetched query={list} waiting="Fetching the saved replies">
        {(replies) => (
          <>
            {replies.length === 0 && (
              <Section>
                <p className="text-soft">Nothing is saved yet. What you answer often is typed once here, and then by “/” and a word.</p>
              </Section>
            )}
            {replies.map((reply) =>
              open === reply.id ? (
                <Editor key={reply.id} reply={reply} onDone={() => setOpen(undefined)} />
              ) : (
                <Section key={reply.id}>
                  <div className="flex items-baseline gap-3">
                    <code className="font-mono font-semibold">/{reply.shortcut}</code>
                    <Button kind="link" className="ms-auto" aria-label={`Change /${reply.shortcut}`} onClick={() => setOpen(reply.id)}>
                      Change
                    </Button>
                  </div>
                  <p dir="auto" className="whitespace-pre-line">
                    {reply.text}
                  </p>
                </Section>
              ),
            )}
            {open === 'new' ? (
              <Editor reply={undefined} onDone={() => setOpen(undefined)} />
            ) : (
              <Section>
                <p>
                  <Button onClick={() => setOpen('new')}>New reply</Button>
                </p>
              </Section>
            )}
          </>
        )}
      </Fetched>
    </Panel>
  );
}

function Editor({ reply, onDone }: { reply: SavedReply | undefined; onDone(): void }) {
  const { site } = useDesk();
  const queries = useQueryClient();
  const [shortcut, setShortcut] = useState(reply?.shortcut ?? '');
  const [text, setText] = useState(reply?.text ?? '');
  const done = {
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ['saved-replies'] });
      onDone();
    },
  };
  const save = useMutation({
    mutationFn: () =>
      (reply ? changeReply(site.id, reply.id, { shortcut, text }) : addReply(site.id, { shortcut, text })).then(() => undefined),
    ...done,
  });
  const remove = useMutation({ mutationFn: () => removeReply(site.id, reply?.id ?? '').then(() => undefined), ...done });
  return (
    <Section quiet>
      <TextField label="After “/”" value={shortcut} maxLength={30} onText={setShortcut} />
      <label className="grid gap-1">
        <span className="font-semibold">Says</span>
        <textarea rows={4} maxLength={500} dir="auto" value={text} onChange={(e) => setText(e.currentTarget.value)} />
        <span className="text-[12px] leading-4 text-soft">
          {'{{ name | default: "there" }}'}, {'{{ page }}'} and {'{{ member }}'} are filled in when it is typed.
        </span>
      </label>
      <Refused error={save.error ?? remove.error} />
      <p className="flex gap-3">
        <Button kind="primary" disabled={save.isPending} onClick={() => save.mutate()}>
          Keep it
        </Button>
        <Button onClick={onDone}>Leave it</Button>
        {reply && (
          <Button kind="danger" className="ms-auto" disabled={remove.isPending} onClick={() => remove.mutate()}>
            Delete
          </Button>
        )}
      </p>
    </Section>
  );
}

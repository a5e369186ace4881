import { useQuery } from '@tanstack/react-query';
import { ExternalLink, FileText, Mail, MessageCircle, MessageSquare, Phone, Plus, Smartphone } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { type ComponentType, useState } from 'react';
import { say } from '../data/toasts';
import { Tick } from '../kit/Field';
import { PhraseBox } from '../kit/PhraseBox';
import { PhrasePopover } from '../kit/PhrasePopover';
import { plural } from '../kit/plural';
import { Sortable, useSortableItem } from '../kit/Sortable';
import { useDesk } from '../session/desk';
import { type Channel, type Launcher, type LauncherBrief, ladderFiguresQuery } from './api';
import { ChannelEditor } from './ChannelEditor';
import { Problems } from './Problems';
import { CHANNEL_ORDER, CHANNELS, channelHoursWords, closedWords } from './words';

export const SIGNS: Record<Channel['kind'], ComponentType<{ className?: string }>> = {
  chat: MessageSquare,
  form: FileText,
  phone: Phone,
  text: Smartphone,
  email: Mail,
  messenger: MessageCircle,
  link: ExternalLink,
};

const nameOf = (channel: Channel) => channel.label || CHANNELS[channel.kind].name;

/** A way to talk with nothing in it yet. */
const startChannel = (kind: Channel['kind']): Channel => ({
  id: crypto.randomUUID(),
  kind,
  target: '',
  appLink: '',
  webLink: '',
  label: '',
  prefill: '',
  translations: [],
  hours: kind === 'phone' ? 'whileOpen' : 'always',
  week: [],
  hiddenOn: [],
  fields:
    kind === 'form'
      ? [
          { field: 'name', needed: false },
          { field: 'email', needed: true },
          { field: 'message', needed: true },
        ]
      : [],
  newWindow: kind === 'link',
});

/** Ways to talk, in the order in which visitors see them. */
export function ChannelsPane({
  launcher,
  brief,
  mayEdit,
  onChange,
}: {
  launcher: Launcher;
  brief: LauncherBrief;
  mayEdit: boolean;
  onChange(change: Partial<LauncherBrief>): void;
}) {
  const { site } = useDesk();
  const figures = useQuery(ladderFiguresQuery(site.id, launcher.id, launcher.draftVersion));
  const [open, setOpen] = useState<string>();
  const { channels } = brief;
  return (
    <section aria-label="Channels" className="border-ink px-4 py-3 md:border-e">
      <div className="flex items-baseline gap-3">
        <h2 className="text-[17px] leading-6">Channels</h2>
        <span className="text-soft">in this order</span>
        {mayEdit && (
          <DropdownMenu.Root modal={false}>
            <DropdownMenu.Trigger className="ms-auto inline-flex min-h-8 items-center gap-1 font-semibold text-cobalt hover:underline">
              <Plus className="h-4 w-4" aria-hidden="true" /> Add
            </DropdownMenu.Trigger>
            <DropdownMenu.Portal>
              <DropdownMenu.Content
                align="end"
                className="z-50 w-[320px] max-w-[calc(100vw-24px)] rounded border border-ink bg-sheet p-1 shadow-lg"
              >
                {CHANNEL_ORDER.map((kind) => (
                  <DropdownMenu.Item
                    key={kind}
                    onSelect={() => {
                      const made = startChannel(kind);
                      onChange({ channels: [...channels, made] });
                      setOpen(made.id);
                    }}
                    className="grid cursor-pointer rounded px-2 py-1.5 outline-none data-[highlighted]:bg-selectwash"
                  >
                    <span className="font-semibold">{CHANNELS[kind].name}</span>
                    <span className="text-[12px] leading-4 text-soft">{CHANNELS[kind].what}</span>
                  </DropdownMenu.Item>
                ))}
              </DropdownMenu.Content>
            </DropdownMenu.Portal>
          </DropdownMenu.Root>
        )}
      </div>
      <Problems problems={launcher.problems.filter((p) => p.field === 'channels')} of={['channels']} />
      <Sortable items={channels} idOf={(c) => c.id} nameOf={nameOf} onOrder={(moved) => onChange({ channels: moved })}>
        <ol>
          {channels.map((channel, i) => (
            <ChannelRow
              key={channel.id}
              channel={channel}
              number={i + 1}
              clicked={figures.data?.channels.find((c) => c.id === channel.id)?.clicked ?? 0}
              isOpen={open === channel.id}
              mayEdit={mayEdit}
              onOpen={(on) => setOpen(on ? channel.id : undefined)}
            >
              <ChannelEditor
                channel={channel}
                opens={launcher.opens.find((o) => o.channel === channel.id)}
                problems={launcher.problems.filter((p) => p.field.startsWith(`channels[${i}]`))}
                place={i}
                onChange={(change) => onChange({ channels: channels.map((c) => (c.id === channel.id ? { ...c, ...change } : c)) })}
                onRemove={() => {
                  setOpen(undefined);
                  onChange({ channels: channels.filter((c) => c.id !== channel.id) });
                  say(`Removed ${nameOf(channel)}. Ctrl Z takes it back.`);
                }}
              />
            </ChannelRow>
          ))}
        </ol>
      </Sortable>
      <ClosedSentence brief={brief} mayEdit={mayEdit} onChange={onChange} />
      <Problems problems={launcher.problems} of={['closed', 'mailTo']} />
    </section>
  );
}

function ChannelRow({
  channel,
  number,
  clicked,
  isOpen,
  mayEdit,
  onOpen,
  children,
}: {
  channel: Channel;
  number: number;
  clicked: number;
  isOpen: boolean;
  mayEdit: boolean;
  onOpen(open: boolean): void;
  children: React.ReactNode;
}) {
  const Sign = SIGNS[channel.kind];
  const name = nameOf(channel);
  const { item, isDragging, handle } = useSortableItem(channel.id, name);
  return (
    <li {...item} className={`border-t border-hair ${isDragging ? 'relative z-10 bg-sheet shadow-lg' : ''}`}>
      <div className="flex items-center gap-2">
        <span className="w-4 text-soft">{number}</span>
        <button
          type="button"
          aria-expanded={isOpen}
          disabled={!mayEdit}
          onClick={() => onOpen(!isOpen)}
          className="flex min-h-9 min-w-0 flex-1 items-center gap-2 text-start enabled:hover:underline"
        >
          <Sign className="h-4 w-4 flex-none" />
          <span className="flex-none font-semibold">{name}</span>
          <span className="min-w-0 overflow-hidden font-mono text-[12px] text-ellipsis whitespace-nowrap text-soft">{channel.target}</span>
        </button>
        <span className="flex-none text-[12px] text-soft" title="Since it was first published">
          {clicked > 0 && <>{plural(clicked, 'time')}, </>}
          {channelHoursWords(channel)}
        </span>
        {mayEdit && handle}
      </div>
      {isOpen && (
        <PhraseBox label={name} onClose={() => onOpen(false)}>
          {children}
        </PhraseBox>
      )}
    </li>
  );
}

/** What becomes of it while closed. */
function ClosedSentence({
  brief,
  mayEdit,
  onChange,
}: {
  brief: LauncherBrief;
  mayEdit: boolean;
  onChange(change: Partial<LauncherBrief>): void;
}) {
  const { closed } = brief;
  const put = (change: Partial<typeof closed>) => mayEdit && onChange({ closed: { ...closed, ...change } });
  return (
    <p className="mt-2 border-t border-hair pt-2 font-display text-[16px] leading-7">
      When closed,{' '}
      <PhrasePopover facet="say" label="When closed" words={closedWords(brief)}>
        {() => (
          <div className="grid gap-1">
            <Tick checked={closed.hides} onTick={(hides) => put({ hides })}>
              It is not there at all
            </Tick>
            {!closed.hides && (
              <Tick checked={closed.takesMessages} onTick={(takesMessages) => put({ takesMessages })}>
                A message can be left
              </Tick>
            )}
            <p className="text-soft">Other words for the button and the greeting while closed stand under “Look and words”.</p>
          </div>
        )}
      </PhrasePopover>
      {!closed.hides && (
        <>
          {' '}
          and{' '}
          <PhrasePopover
            facet="when"
            label="Next opening"
            words={closed.saysNext ? "say when it opens, in the visitor's own time" : 'say no time'}
          >
            {() => (
              <Tick checked={closed.saysNext} onTick={(saysNext) => put({ saysNext })}>
                Say when it opens next, in the visitor’s own time
              </Tick>
            )}
          </PhrasePopover>
        </>
      )}
      .
    </p>
  );
}

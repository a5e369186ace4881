import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useTone } from '../catalogue/kit';
import { LettersFields } from '../catalogue/LettersFields';
import { PictureChoice } from '../catalogue/PictureChoice';
import { Choice, NumberField, SelectField, TextField, Tick } from '../kit/Field';
import { ListField } from '../kit/ListField';
import { Panel, Section } from '../kit/Panel';
import { scriptsQuery } from '../scripts/api';
import { LanguageTabs } from '../sentence/LanguageTabs';
import { groupsQuery } from '../session/answering';
import { useDesk } from '../session/desk';
import type { Launcher, LauncherBrief } from './api';
import { PositionEditor } from './PositionEditor';
import { Problems } from './Problems';

type Words = LauncherBrief['words'][number];

const BLANK: Words = { language: '', button: '', closedButton: '', title: '', greeting: '', closedGreeting: '', thanks: '' };

/** How a launcher looks and what it says before any greeting; who speaks, and what opens it. */
export function LookPanel({
  brief,
  problems,
  mayEdit,
  onChange,
  onClose,
}: {
  brief: LauncherBrief;
  problems: Launcher['problems'];
  mayEdit: boolean;
  onChange(change: Partial<LauncherBrief>): void;
  onClose(): void;
}) {
  const { look, speaker } = brief;
  const { site, workspace } = useDesk();
  const { data: groups } = useQuery(groupsQuery(workspace.id));
  const { data: scripts } = useQuery(scriptsQuery(site.id));
  const putLook = (change: Partial<typeof look>) => onChange({ look: { ...look, ...change } });
  const putSpeaker = (change: Partial<typeof speaker>) => onChange({ speaker: { ...speaker, ...change } });
  return (
    <Panel label="Look and words" title="Look and words" wide onClose={onClose}>
      <fieldset disabled={!mayEdit} data-draft className="min-w-0">
        <Section title="Words">
          <WordsEditor words={brief.words} onWords={(words) => onChange({ words })} />
          <Problems problems={problems} of={['words']} />
        </Section>
        <Section title="Button">
          <SelectField
            label="Sign"
            value={look.sign}
            choices={[
              ['speech', 'a speech bubble'],
              ['question', 'a question mark'],
              ['picture', 'a picture'],
              ['none', 'none'],
            ]}
            onChoose={(sign) => putLook({ sign })}
          />
          {look.sign === 'picture' && (
            <PictureChoice address={look.pictureAddress} onChoose={(pictureAddress) => putLook({ pictureAddress })} />
          )}
          <Tick checked={look.showsWords} onTick={(showsWords) => putLook({ showsWords })}>
            With its words; else they are read out only
          </Tick>
          <Tick checked={look.dot} onTick={(dot) => putLook({ dot })}>
            A green dot while open
          </Tick>
          <Choice
            legend="Size"
            value={look.size}
            choices={[
              ['small', 'small'],
              ['normal', 'normal'],
              ['large', 'large'],
            ]}
            onChoose={(size) => putLook({ size })}
          />
          <div className="flex flex-wrap gap-4">
            <label className="grid gap-1">
              Band
              <input type="color" value={look.band} onChange={(e) => putLook({ band: e.currentTarget.value.toUpperCase() })} />
            </label>
            <label className="grid gap-1">
              Ground
              <input type="color" value={look.ground} onChange={(e) => putLook({ ground: e.currentTarget.value.toUpperCase() })} />
            </label>
          </div>
          <p className="text-soft">The ink of the words is chosen for contrast.</p>
          <LettersFields look={look} onChange={putLook} />
          <PositionEditor look={look} onChange={putLook} />
          <Problems problems={problems} of={['look']} />
        </Section>
        <Section title="Who speaks">
          <Choice
            legend="The panel names"
            value={speaker.members ? 'members' : 'one'}
            choices={[
              ['members', 'those of the team who are there, by first name'],
              ['one', 'somebody in particular, or nobody'],
            ]}
            onChoose={(v) => putSpeaker({ members: v === 'members' })}
          />
          {!speaker.members && (
            <>
              <TextField label="Name" value={speaker.name} maxLength={60} onText={(name) => putSpeaker({ name })} />
              <TextField label="Role" value={speaker.role} maxLength={60} onText={(role) => putSpeaker({ role })} />
              <span className="font-semibold">Portrait</span>
              <PictureChoice address={speaker.portrait} onChoose={(portrait) => putSpeaker({ portrait })} />
            </>
          )}
          <Problems problems={problems} of={['speaker']} />
        </Section>
        <Section title="What opens it">
          <p>
            A click on the button; a click on any element of your page that has <code className="font-mono">data-outcry-open</code>; your
            own script with <code className="font-mono">outcry.push(['open'])</code>.
          </p>
          <TextField
            label="And a link to a page with this fragment"
            hint={brief.fragment ? `…/page#${brief.fragment}` : 'Empty for none'}
            value={brief.fragment}
            maxLength={60}
            onText={(fragment) => onChange({ fragment: fragment.replace(/^#/, '') })}
          />
          <Tick checked={brief.direct} onTick={(direct) => onChange({ direct })}>
            Straight to the channel, where only one is offered and it leads elsewhere
          </Tick>
          <Problems problems={problems} of={['fragment']} />
        </Section>
        <Section title="Talks">
          <SelectField
            label="Begin with the script"
            value={brief.scriptId ?? ''}
            choices={[
              ['', 'none: the team answers'],
              ...(scripts ?? []).map((s) => [s.id, s.state === 'live' ? s.name : `${s.name} (${s.state})`] as const),
            ]}
            onChoose={(scriptId) => onChange({ scriptId: scriptId || null })}
          />
          <Problems problems={problems} of={['scriptId']} />
          {(!!groups?.length || brief.groupId) && (
            <SelectField
              label="Answered by"
              value={brief.groupId ?? ''}
              choices={[['', 'everybody who answers'] as const, ...(groups ?? []).map((g) => [g.id, `the group ${g.name}`] as const)]}
              onChoose={(groupId) => onChange({ groupId: groupId || null })}
            />
          )}
        </Section>
        <Section title="Messages">
          <ListField
            label="Messages are mailed to"
            hint="Addresses with commas between; empty for the owners of the workspace. Each message is in the ledger as well."
            values={brief.mailTo}
            onValues={(mailTo) => onChange({ mailTo })}
          />
          <Problems problems={problems} of={['mailTo']} />
        </Section>
        <Section title="Among several">
          <NumberField
            label="Priority"
            value={brief.priority}
            min={1}
            max={9}
            after="of several that could stand on a page the lowest number does"
            onValue={(priority) => onChange({ priority })}
          />
        </Section>
      </fieldset>
    </Panel>
  );
}

/** A launcher's own words in each of its languages. */
function WordsEditor({ words, onWords }: { words: readonly Words[]; onWords(words: Words[]): void }) {
  const tone = useTone();
  const { site } = useDesk();
  const [chosen, setChosen] = useState<number>();
  const [own = BLANK, ...others] = words;
  const place = chosen !== undefined && chosen < others.length ? chosen : undefined;
  const shown = (place === undefined ? own : others[place]) ?? BLANK;
  const put = (change: Partial<Words>) => {
    const at = place === undefined ? 0 : place + 1;
    const all = words.length === 0 ? [BLANK] : words;
    onWords(all.map((w, i) => (i === at ? { ...w, ...change } : w)));
  };
  const field = (key: keyof Words, label: string, hint: string, most = 40) => (
    <TextField
      key={`${place} ${key}`}
      label={label}
      hint={hint}
      value={shown[key]}
      maxLength={most}
      dir="auto"
      onText={(text) => put({ [key]: text })}
    />
  );
  return (
    <div className="grid gap-3">
      <LanguageTabs
        tone={tone}
        own={site.language}
        languages={others.map((w) => w.language)}
        missing={(i) => (others[i]?.button.trim() && others[i]?.greeting.trim() ? '' : 'the button or the greeting')}
        place={place}
        onOpen={setChosen}
        onAdd={(language) => {
          const known = others.findIndex((w) => w.language.toLowerCase() === language.toLowerCase());
          if (known >= 0) return setChosen(known);
          onWords([...words, { ...own, language }]);
          setChosen(others.length);
        }}
        onRemove={(gone) => {
          onWords(words.filter((_, i) => i !== gone + 1));
          setChosen(undefined);
        }}
      />
      {field('button', 'On the button', 'A few words: “Ask the studio”')}
      {field('closedButton', 'On the button while closed', 'Empty for the same')}
      {field('title', 'Above the panel', 'Empty for the words on the button')}
      {field('greeting', 'In large in the panel', 'Where no greeting of the ladder led there', 300)}
      {field('closedGreeting', 'The same while closed', 'Empty for the same', 300)}
      {field('thanks', 'After a message was sent', 'Empty for the built-in words', 300)}
    </div>
  );
}

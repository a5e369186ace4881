import { lazy, Suspense, useState } from 'react';
import type { Names } from '../brief/model';
import { ScheduleEditor } from '../brief/ScheduleEditor';
import { DevicesEditor, HushEditor, RepeatEditor, ReplacesEditor } from '../brief/SmallEditors';
import { TriggersEditor } from '../brief/TriggersEditor';
import { WhereEditor } from '../brief/WhereEditor';
import { RuleEditor } from '../brief/WhoEditor';
import { type Rule, ruleOf } from '../brief/who';
import { useTone } from '../catalogue/kit';
import { Button } from '../kit/Button';
import { Choice, NumberField, Tick } from '../kit/Field';
import { ListField } from '../kit/ListField';
import { languageName } from '../kit/languages';
import { Waiting } from '../kit/Notice';
import { TypedInput } from '../kit/Typed';
import { useRowKeys } from '../kit/useRowKeys';
import { LanguageTabs } from '../sentence/LanguageTabs';
import { useDesk } from '../session/desk';
import type { Rung } from './api';

const SentenceEditor = lazy(() => import('../sentence/SentenceEditor').then((m) => ({ default: m.SentenceEditor })));

/** The phrases of a greeting's sentence. */
export type RungPart = 'where' | 'who' | 'when' | 'say' | 'does';

/** The control behind a phrase of a greeting. */
export function RungEditor({
  rung,
  part,
  names,
  onChange,
}: {
  rung: Rung;
  part: RungPart;
  names: Names;
  onChange(change: Partial<Rung>): void;
}) {
  switch (part) {
    case 'where':
      return (
        <div className="grid gap-3">
          <WhereEditor where={rung.where} groups={names.groups} onChange={(c) => onChange({ where: { ...rung.where, ...c } })} />
          <ReplacesEditor where={rung.where} onChange={(c) => onChange({ where: { ...rung.where, ...c } })} />
        </div>
      );
    case 'who':
      return (
        <div className="grid gap-3">
          <RuleEditor
            rule={ruleOf(rung.who)}
            segments={names.segments}
            onChange={(rule: Rule) => onChange({ who: { ...rung.who, rule: rule as Rung['who']['rule'] } })}
          />
          <ReadersEditor languages={rung.languages} onChange={(languages) => onChange({ languages })} />
          <DevicesEditor who={rung.who} onChange={(who) => onChange({ who: { ...rung.who, ...who } })} />
        </div>
      );
    case 'when':
      return (
        <div className="grid gap-4">
          <TriggersEditor when={rung.when} shows={rung.id} onChange={(c) => onChange({ when: { ...rung.when, ...c } })} />
          <Choice
            legend="It greets"
            value={rung.while}
            choices={[
              ['always', 'open or closed'],
              ['open', 'while the launcher is open'],
              ['closed', 'while it is closed'],
            ]}
            onChoose={(value) => onChange({ while: value })}
          />
          <fieldset className="grid gap-2 border-t border-hair pt-3">
            <legend className="font-semibold">How often</legend>
            <RepeatEditor howOften={rung.howOften} onChange={(c) => onChange({ howOften: { ...rung.howOften, ...c } })} />
            <HushEditor howOften={rung.howOften} onChange={(c) => onChange({ howOften: { ...rung.howOften, ...c } })} />
          </fieldset>
          <details>
            <summary className="cursor-pointer font-semibold">Dates and hours of its own</summary>
            <div className="mt-2">
              <ScheduleEditor
                schedule={rung.when.schedule}
                onChange={(c) => onChange({ when: { ...rung.when, schedule: { ...rung.when.schedule, ...c } } })}
              />
            </div>
          </details>
        </div>
      );
    case 'say':
      return <GreetingEditor rung={rung} onChange={onChange} />;
    case 'does':
      return (
        <div className="grid gap-3">
          <Choice
            legend="It"
            value={rung.does}
            choices={[
              ['bubble', 'shows its words in a bubble by the button'],
              ['openPanel', 'opens the panel; on phones a bubble all the same'],
            ]}
            onChoose={(does) => onChange({ does })}
          />
          {rung.does === 'bubble' && (
            <>
              <Tick checked={rung.staySeconds === null} onTick={(on) => onChange({ staySeconds: on ? null : 8 })}>
                The bubble stays until it is closed
              </Tick>
              {rung.staySeconds !== null && (
                <NumberField
                  label="It stays for"
                  value={rung.staySeconds}
                  min={2}
                  max={120}
                  after="seconds, longer for longer words"
                  onValue={(staySeconds) => onChange({ staySeconds })}
                />
              )}
            </>
          )}
          <Tick checked={rung.sound} onTick={(sound) => onChange({ sound })}>
            With two soft notes, once the visitor has clicked or typed on the page
          </Tick>
        </div>
      );
  }
}

function ReadersEditor({ languages, onChange }: { languages: readonly string[]; onChange(languages: string[]): void }) {
  return (
    <ListField
      label="Only for readers of"
      hint={languages.length === 0 ? 'Tags such as de, pt-BR; empty for all' : languages.map(languageName).join(', ')}
      values={languages}
      onValues={onChange}
    />
  );
}

/** What a greeting says in each of its languages, with ready replies. */
function GreetingEditor({ rung, onChange }: { rung: Rung; onChange(change: Partial<Rung>): void }) {
  const tone = useTone();
  const { site } = useDesk();
  const [chosen, setChosen] = useState<number>();
  const [own, ...others] = rung.words;
  const place = chosen !== undefined && chosen < others.length ? chosen : undefined;
  const words = (place === undefined ? own : others[place]) ?? { language: '', words: '', replies: [] };
  const language = place === undefined ? site.language : words.language;
  const put = (change: Partial<typeof words>) => {
    const at = place === undefined ? 0 : place + 1;
    const all = rung.words.length === 0 ? [words] : rung.words;
    onChange({ words: all.map((w, i) => (i === at ? { ...w, ...change } : w)) });
  };
  const rows = useRowKeys(words.replies.length);
  return (
    <div className="grid gap-3">
      <LanguageTabs
        tone={tone}
        own={site.language}
        languages={others.map((w) => w.language)}
        missing={(i) => (others[i]?.words.trim() ? '' : 'the words')}
        place={place}
        onOpen={setChosen}
        onAdd={(added) => {
          const known = others.findIndex((w) => w.language.toLowerCase() === added.toLowerCase());
          if (known >= 0) return setChosen(known);
          onChange({ words: [...rung.words, { language: added, words: own?.words ?? '', replies: [...(own?.replies ?? [])] }] });
          setChosen(others.length);
        }}
        onRemove={(gone) => {
          onChange({ words: rung.words.filter((_, i) => i !== gone + 1) });
          setChosen(undefined);
        }}
      />
      <Suspense fallback={<Waiting>Fetching the editor</Waiting>}>
        <SentenceEditor
          key={language}
          label="Greeting"
          isFirst
          value={words.words}
          language={language}
          tokens={[]}
          examples={{}}
          onChange={(text) => put({ words: text })}
        />
      </Suspense>
      <fieldset className="grid gap-1">
        <legend className="mb-1 font-semibold">Ready replies</legend>
        {words.replies.length === 0 && <p className="text-soft">None: the visitor writes in their own words.</p>}
        {words.replies.map((reply, i) => (
          <div key={rows.keys[i]} className="flex items-center gap-1">
            <TypedInput
              aria-label={`Ready reply ${i + 1}`}
              className="min-w-0 flex-1"
              dir="auto"
              maxLength={80}
              value={reply}
              onValue={(text) => put({ replies: words.replies.map((r, j) => (j === i ? text : r)) })}
            />
            <Button
              kind="link"
              aria-label={`Remove ready reply ${i + 1}`}
              onClick={() => {
                rows.removed(i);
                put({ replies: words.replies.filter((_, j) => j !== i) });
              }}
            >
              Remove
            </Button>
          </div>
        ))}
        {words.replies.length < 8 && (
          <p>
            <Button onClick={() => put({ replies: [...words.replies, 'Yes, please'] })}>Add a reply</Button>
          </p>
        )}
      </fieldset>
    </div>
  );
}

import { useRef, useState } from 'react';
import type { Names } from '../brief/model';
import { DevicesEditor } from '../brief/SmallEditors';
import { WhereEditor } from '../brief/WhereEditor';
import { RuleEditor } from '../brief/WhoEditor';
import { type Rule, ruleOf } from '../brief/who';
import { type Facet, Phrase } from '../kit/Phrase';
import { PhraseBox } from '../kit/PhraseBox';
import type { Launcher, LauncherBrief } from './api';
import { PositionEditor } from './PositionEditor';
import { Problems } from './Problems';
import { positionWords, standsForWords, whereWords } from './words';

type Part = 'where' | 'position' | 'who';

/** Where the launcher stands and for whom, as one sentence. */
export function StandsSentence({
  brief,
  names,
  problems,
  mayEdit,
  onChange,
}: {
  brief: LauncherBrief;
  names: Names;
  problems: Launcher['problems'];
  mayEdit: boolean;
  onChange(change: Partial<LauncherBrief>): void;
}) {
  const [open, setOpen] = useState<Part>();
  const pane = useRef<HTMLDivElement>(null);
  const phrase = (key: Part, facet: Facet, words: string) => (
    <Phrase
      facet={facet}
      phraseKey={`stands.${key}`}
      isOpen={open === key}
      changed={false}
      disabled={!mayEdit}
      onOpen={() => setOpen(open === key ? undefined : key)}
    >
      {words}
    </Phrase>
  );
  function close() {
    const key = open;
    setOpen(undefined);
    requestAnimationFrame(() => pane.current?.querySelector<HTMLElement>(`[data-phrase="stands.${key}"]`)?.focus());
  }
  return (
    <div ref={pane} className="flex-none border-b border-hair bg-sheet px-4 py-2">
      <p className="font-display text-[18px] leading-8">
        Stands on {phrase('where', 'where', whereWords(brief.where, names))}, {phrase('position', 'look', positionWords(brief))}, for{' '}
        {phrase('who', 'who', standsForWords(brief, names))}.
      </p>
      <Problems problems={problems} of={['where', 'who', 'priority']} />
      {open && (
        <PhraseBox label={open === 'where' ? 'where it stands' : open === 'who' ? 'for whom' : 'where the button is'} onClose={close}>
          {open === 'where' && (
            <WhereEditor
              where={brief.where}
              groups={names.groups}
              onChange={(change) => onChange({ where: { ...brief.where, ...change } })}
            />
          )}
          {open === 'position' && <PositionEditor look={brief.look} onChange={(look) => onChange({ look: { ...brief.look, ...look } })} />}
          {open === 'who' && (
            <div className="grid gap-3">
              <RuleEditor
                rule={ruleOf(brief.who)}
                segments={names.segments}
                onChange={(rule: Rule) => onChange({ who: { ...brief.who, rule: rule as LauncherBrief['who']['rule'] } })}
              />
              <DevicesEditor who={brief.who} onChange={(who) => onChange({ who: { ...brief.who, ...who } })} />
            </div>
          )}
        </PhraseBox>
      )}
    </div>
  );
}

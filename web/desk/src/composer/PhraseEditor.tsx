import { useParams } from '@tanstack/react-router';
import { type ComponentProps, lazy, Suspense } from 'react';
import { ConfirmEditor, PromiseEditor, RewardEditor, TagsEditor, ThanksEditor } from '../brief/AskEditors';
import { FieldsEditor, HiddenEditor } from '../brief/AskFields';
import { BackdropEditor, BlocksEditor } from '../brief/FaceEditors';
import {
  ConditionsEditor,
  CountedPagesEditor,
  LeastEditor,
  LeftEditor,
  MeasureEditor,
  NearEditor,
  SourcesEditor,
  StarsEditor,
  WindowEditor,
} from '../brief/FromEditors';
import type { Names } from '../brief/model';
import { LinkEditor, MannerEditor, PictureEditor } from '../brief/SayEditors';
import { ScheduleEditor } from '../brief/ScheduleEditor';
import {
  AfterwardsEditor,
  CloseEditor,
  ColoursEditor,
  DevicesEditor,
  HoldbackEditor,
  HushEditor,
  PriorityEditor,
  RepeatEditor,
  ReplacesEditor,
  ShapeEditor,
  StayEditor,
  TurnsEditor,
} from '../brief/SmallEditors';
import { TriggersEditor } from '../brief/TriggersEditor';
import type { Brief, Source } from '../brief/types';
import { WhereEditor } from '../brief/WhereEditor';
import { RuleEditor } from '../brief/WhoEditor';
import { ruleOf } from '../brief/who';
import { LettersFields } from '../catalogue/LettersFields';
import { Waiting } from '../kit/Notice';

// The editor of sentences is as large as the rest of the composer: it comes when it is wanted.
const WordsEditor = lazy(() => import('./WordsEditor').then((m) => ({ default: m.WordsEditor })));

const Words = (props: ComponentProps<typeof WordsEditor>) => (
  <Suspense fallback={<Waiting>Fetching the editor</Waiting>}>
    <WordsEditor {...props} />
  </Suspense>
);

/** The control behind a phrase. */
export function PhraseEditor({
  phrase,
  brief,
  names,
  onChange,
}: {
  phrase: string;
  brief: Brief;
  names: Names;
  onChange(brief: Brief): void;
}) {
  const { sources } = names;
  const { calloutId } = useParams({ from: '/callouts/$calloutId' });
  const say = { say: brief.say, onChange: (c: Partial<Brief['say']>) => onChange({ ...brief, say: { ...brief.say, ...c } }) };
  const from = {
    from: brief.from,
    sources,
    onChange: (c: Partial<Brief['from']>) => onChange({ ...brief, from: { ...brief.from, ...c } }),
  };
  const when = { when: brief.when, onChange: (c: Partial<Brief['when']>) => onChange({ ...brief, when: { ...brief.when, ...c } }) };
  const often = {
    howOften: brief.howOften,
    onChange: (c: Partial<Brief['howOften']>) => onChange({ ...brief, howOften: { ...brief.howOften, ...c } }),
  };
  const look = { look: brief.look, onChange: (c: Partial<Brief['look']>) => onChange({ ...brief, look: { ...brief.look, ...c } }) };
  const where = { where: brief.where, onChange: (c: Partial<Brief['where']>) => onChange({ ...brief, where: { ...brief.where, ...c } }) };
  const who = (c: Partial<Brief['who']>) => onChange({ ...brief, who: { ...brief.who, ...c } });
  const ask = brief.ask && {
    ask: brief.ask,
    languages: brief.say.translations.map((t) => t.language).filter(Boolean),
    onChange: (next: NonNullable<Brief['ask']>) => onChange({ ...brief, ask: next }),
  };
  switch (phrase) {
    case 'say.message':
    case 'say.detail':
      return <Words {...say} startsWith="own" tokens={tokensOf(brief, sources)} />;
    case 'say.manner':
      return <MannerEditor kind={brief.kind} {...say} />;
    case 'say.picture':
      return <PictureEditor kind={brief.kind} {...say} />;
    case 'say.link':
      return <LinkEditor kind={brief.kind} {...say} />;
    case 'say.languages':
      return <Words {...say} startsWith="languages" tokens={tokensOf(brief, sources)} />;
    case 'ask.fields':
      return ask && <FieldsEditor {...ask} />;
    case 'ask.hidden':
      return ask && <HiddenEditor {...ask} />;
    case 'ask.blocks':
      return ask && <BlocksEditor {...ask} />;
    case 'ask.promise':
      return ask && <PromiseEditor {...ask} />;
    case 'ask.confirms':
      return ask && <ConfirmEditor {...ask} />;
    case 'ask.thanks':
      return ask && <ThanksEditor {...ask} look={brief.look} />;
    case 'ask.reward':
      return ask && <RewardEditor {...ask} />;
    case 'ask.tags':
      return ask && <TagsEditor {...ask} />;
    case 'from.sources':
      return <SourcesEditor {...from} />;
    case 'from.window':
      return <WindowEditor {...from} orNow={brief.kind === 'headcount'} />;
    case 'from.measure':
      return <MeasureEditor {...from} />;
    case 'from.near':
    case 'from.page':
      return <NearEditor {...from} />;
    case 'from.pages':
      return <CountedPagesEditor {...from} />;
    case 'from.left':
      return <LeftEditor {...from} />;
    case 'from.stars':
      return <StarsEditor {...from} />;
    case 'from.conditions':
      return <ConditionsEditor {...from} />;
    case 'from.least':
      return <LeastEditor {...from} />;
    case 'where':
    case 'where.excludes':
      return <WhereEditor {...where} groups={names.groups} />;
    case 'where.replaces':
      return <ReplacesEditor {...where} />;
    case 'who.rule':
      return (
        <RuleEditor rule={ruleOf(brief.who)} segments={names.segments} onChange={(rule) => who({ rule: rule as Brief['who']['rule'] })} />
      );
    case 'who.devices':
      return <DevicesEditor who={brief.who} onChange={who} />;
    case 'when.triggers':
    case 'when.available':
      return <TriggersEditor {...when} shows={calloutId} asks={brief.kind === 'prompt'} />;
    case 'when.turns':
      return <TurnsEditor {...when} />;
    case 'when.schedule':
      return (
        <ScheduleEditor schedule={brief.when.schedule} onChange={(c) => when.onChange({ schedule: { ...brief.when.schedule, ...c } })} />
      );
    case 'often.repeat':
      return <RepeatEditor {...often} />;
    case 'often.hush':
      return <HushEditor {...often} />;
    case 'often.afterClose':
    case 'often.goals':
    case 'often.afterSuccess':
      return <AfterwardsEditor {...often} sources={sources} />;
    case 'often.priority':
      return <PriorityEditor brief={brief} onChange={onChange} />;
    case 'often.holdback':
      return <HoldbackEditor brief={brief} onChange={onChange} />;
    case 'look.shape':
      return <ShapeEditor {...look} />;
    case 'look.backdrop':
      return <BackdropEditor {...look} />;
    case 'look.colours':
      return <ColoursEditor {...look} />;
    case 'look.letters':
      return <LettersFields {...look} />;
    case 'look.stay':
      return <StayEditor {...look} />;
    default:
      return <CloseEditor {...look} />;
  }
}

const COUNT_TOKENS = ['number', 'period'];
const NOTICE_TOKENS = ['countdown', 'code'];
const PROMPT_TOKENS = ['countdown'];

// Only what every chosen source offers; before one is chosen, what any of them would.
function tokensOf(brief: Brief, sources: readonly Source[]): string[] {
  if (brief.kind === 'tally' || brief.kind === 'headcount') return COUNT_TOKENS;
  if (brief.kind === 'notice') return NOTICE_TOKENS;
  if (brief.kind === 'prompt') return PROMPT_TOKENS;
  const chosen = sources.filter((s) => brief.from.sources.includes(s.id));
  const lists = (chosen.length > 0 ? chosen : sources).map((s) => s.tokens);
  return (lists[0] ?? []).filter((token) => lists.every((l) => l.includes(token)));
}

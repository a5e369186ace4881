import type { Brief, Source } from '../callouts/api';
import { ConditionsEditor, LeastEditor, SourcesEditor, WindowEditor } from './FromEditors';
import { MessageEditor } from './MessageEditor';
import {
  AfterEditor,
  CloseEditor,
  ColoursEditor,
  HushEditor,
  LinkEditor,
  PictureEditor,
  RepeatEditor,
  SideEditor,
  StayEditor,
  TurnsEditor,
} from './SmallEditors';
import { WhereEditor } from './WhereEditor';

/** The control behind a phrase. */
export function PhraseEditor({
  phrase,
  brief,
  sources,
  onChange,
}: {
  phrase: string;
  brief: Brief;
  sources: readonly Source[];
  onChange(brief: Brief): void;
}) {
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
  switch (phrase) {
    case 'say.message':
      return <MessageEditor {...say} tokens={tokensOf(brief, sources)} />;
    case 'say.picture':
      return <PictureEditor {...say} />;
    case 'say.link':
      return <LinkEditor {...say} />;
    case 'from.sources':
      return <SourcesEditor {...from} />;
    case 'from.window':
      return <WindowEditor {...from} />;
    case 'from.conditions':
      return <ConditionsEditor {...from} />;
    case 'from.least':
      return <LeastEditor {...from} />;
    case 'where':
    case 'where.excludes':
      return <WhereEditor where={brief.where} onChange={(c) => onChange({ ...brief, where: { ...brief.where, ...c } })} />;
    case 'when.after':
      return <AfterEditor {...when} />;
    case 'when.turns':
      return <TurnsEditor {...when} />;
    case 'often.repeat':
      return <RepeatEditor {...often} />;
    case 'often.hush':
      return <HushEditor {...often} />;
    case 'look.side':
      return <SideEditor {...look} />;
    case 'look.colours':
      return <ColoursEditor {...look} />;
    case 'look.stay':
      return <StayEditor {...look} />;
    default:
      return <CloseEditor {...look} />;
  }
}

// Only what every chosen source offers; before one is chosen, what any of them would.
function tokensOf(brief: Brief, sources: readonly Source[]): string[] {
  const chosen = sources.filter((s) => brief.from.sources.includes(s.id));
  const lists = (chosen.length > 0 ? chosen : sources).map((s) => s.tokens);
  return (lists[0] ?? []).filter((token) => lists.every((l) => l.includes(token)));
}

import { type KeyboardEvent, useState } from 'react';
import { useDesk } from '../session/desk';
import type { ScriptDefinition, Step } from './api';
import { StepFields } from './StepFields';
import { KINDS, turned } from './steps';

/** Under which a dragged step names itself. */
const CARRIES = 'text/x-outcry-step';

const COLOURS: Partial<Record<Step['kind'], string>> = {
  say: 'text-[#6b5200]',
  ask: 'text-[#0d5c63]',
  handOver: 'text-[#4b3a99]',
  end: 'text-soft',
};

/** One step of the outline: its line, what it does, its words; open, everything else of it. */
export function StepRow({
  step,
  at,
  steps,
  language,
  problems,
  isOpen,
  mayEdit,
  reached,
  onOpen,
  onChange,
  onAct,
  onCarry,
}: {
  step: Step;
  at: number;
  steps: readonly Step[];
  /** In which language words are written; empty for the site's own. */
  language: string;
  problems: ScriptDefinition['problems'];
  isOpen: boolean;
  mayEdit: boolean;
  /** Share of the latest talks that came here, 0 to 1; undefined where there was none. */
  reached: number | undefined;
  onOpen(): void;
  onChange(step: Step): void;
  onAct(act: 'up' | 'down' | 'in' | 'out' | 'new' | 'remove'): void;
  /** A step was dropped on this one: it goes before it. */
  onCarry(id: string): void;
}) {
  const { site } = useDesk();
  const [over, setOver] = useState(false);
  const own = step.words.find((w) => w.language === language);
  const fallback = step.words.find((w) => w.language === '')?.words ?? '';
  const hasWords = step.kind === 'say' || step.kind === 'ask' || step.kind === 'offer' || step.kind === 'end' || step.kind === 'handOver';

  function key(event: KeyboardEvent) {
    if (!mayEdit) return;
    if (event.altKey && event.key.startsWith('Arrow')) {
      event.preventDefault();
      const acts = { ArrowUp: 'up', ArrowDown: 'down', ArrowLeft: 'out', ArrowRight: 'in' } as const;
      onAct(acts[event.key as keyof typeof acts]);
    } else if (event.key === 'Enter' && event.target instanceof HTMLInputElement && event.target.dataset.line) {
      event.preventDefault();
      onAct('new');
    }
  }

  return (
    <li
      data-step={step.id}
      className={`${isOpen ? 'bg-selectwash' : ''} ${over ? 'shadow-[inset_0_3px_0_var(--color-marigold)]' : ''}`}
      onKeyDown={key}
      onDragOver={(event) => {
        if (!mayEdit || !event.dataTransfer.types.includes(CARRIES)) return;
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        setOver(false);
        const id = event.dataTransfer.getData(CARRIES);
        if (!id) return;
        event.preventDefault();
        onCarry(id);
      }}
    >
      <div className="flex min-h-9 items-center gap-2 border-b border-hair pe-3">
        <button
          type="button"
          aria-expanded={isOpen}
          aria-label={`Step ${at + 1}, all of it`}
          title={mayEdit ? 'Drag to move it with what stands under it' : undefined}
          draggable={mayEdit}
          onDragStart={(event) => {
            event.dataTransfer.setData(CARRIES, step.id);
            event.dataTransfer.effectAllowed = 'move';
          }}
          className={`h-9 w-10 flex-none text-end font-mono text-[12px] text-soft hover:text-ink ${mayEdit ? 'cursor-grab' : ''}`}
          onClick={onOpen}
        >
          {at + 1}
        </button>
        <span style={{ width: step.indent * 28 }} className="flex-none" aria-hidden="true" />
        <select
          aria-label={`What step ${at + 1} does`}
          value={step.kind}
          disabled={!mayEdit}
          className={`w-28 flex-none !border-transparent !bg-transparent font-semibold hover:!border-edge ${COLOURS[step.kind] ?? 'text-[#1c5d34]'}`}
          onChange={(e) => onChange(turned(step, e.currentTarget.value as Step['kind']))}
        >
          {KINDS.map(([kind, words]) => (
            <option key={kind} value={kind}>
              {words}
            </option>
          ))}
        </select>
        {hasWords ? (
          <input
            data-line="words"
            aria-label={`Words of step ${at + 1}`}
            dir="auto"
            disabled={!mayEdit}
            value={own?.words ?? ''}
            placeholder={
              fallback || (step.kind === 'handOver' ? 'says nothing' : step.kind === 'end' ? 'without a word' : 'Write what it says')
            }
            maxLength={500}
            className="min-w-0 flex-1 !border-transparent !bg-transparent font-display text-[16px] placeholder:text-soft hover:!border-edge focus:!border-edge"
            onFocus={onOpen}
            onChange={(e) => {
              const words = e.currentTarget.value;
              const rest = step.words.filter((w) => w.language !== language);
              const entry = { ...(own ?? { language, words: '', replies: [], retry: '' }), words };
              onChange({ ...step, words: language === '' ? [entry, ...rest] : [...rest, entry] });
            }}
          />
        ) : (
          <button type="button" className="min-w-0 flex-1 truncate text-start" onClick={onOpen}>
            {summary(step, steps, site.language)}
          </button>
        )}
        {reached !== undefined && (
          <span className="w-10 flex-none text-end text-[12px] text-soft" title="Of the latest talks, so many came here">
            {Math.round(reached * 100)} %
          </span>
        )}
        <span className="w-24 flex-none truncate text-end font-mono text-[12px] text-soft">{step.ask?.field}</span>
      </div>
      {problems.map((p) => (
        <p
          key={`${p.field}:${p.message}`}
          className={`border-b border-hair py-1 ps-12 pe-3 text-[12px] leading-4 ${p.blocks ? 'text-bad' : 'text-warn'}`}
        >
          <b>{p.blocks ? 'Stops publishing:' : 'Worth a look:'}</b> {p.message}
        </p>
      ))}
      {isOpen && <StepFields step={step} steps={steps} at={at} language={language} mayEdit={mayEdit} onChange={onChange} onAct={onAct} />}
    </li>
  );
}

/** What a step without words does, in words. */
function summary(step: Step, steps: readonly Step[], language: string): string {
  const { if: condition } = step;
  if (condition) {
    const on =
      condition.on === 'answer'
        ? condition.field || 'an answer'
        : {
            open: 'open',
            somebodyHere: 'somebody here',
            language: 'the language',
            page: 'the page',
            segment: 'the segment',
            known: 'known',
          }[condition.on];
    const how = { is: 'is', isNot: 'is not', moreThan: 'is more than', lessThan: 'is less than', contains: 'has', isKept: 'is kept' }[
      condition.comparison
    ];
    return `${on} ${how} ${condition.comparison === 'isKept' ? '' : condition.value || '…'}`.trim();
  }
  if (step.kind === 'else') return 'otherwise';
  if (step.kind === 'keep') return `${step.field || '…'} = ${step.value || '…'}`;
  if (step.kind === 'goTo') {
    const place = steps.findIndex((s) => s.id === step.target);
    return place < 0 ? 'choose a step' : `step ${place + 1}`;
  }
  return language;
}

import { Button } from '../kit/Button';
import { PhrasePopover } from '../kit/PhrasePopover';
import { useDesk } from '../session/desk';
import { localNow, sayAt } from '../visits/asOf';
import type { Journey, Visitor } from '../visits/model';
import { FactEditor } from './FactEditor';
import { factPhrases } from './facts';

/** Who comes and when, as a sentence whose phrases can be changed. */
export function VisitSentence({
  journey,
  nameOf,
  onFact,
  onBegin,
}: {
  journey: Journey;
  nameOf(callout: string): string;
  onFact(change: Visitor): void;
  /** On the site's clock; undefined for now. */
  onBegin(at: string | undefined): void;
}) {
  const { site } = useDesk();
  return (
    <p className="min-w-[280px] flex-1 font-display text-[16px] leading-[28px]">
      {factPhrases(journey.visitor, nameOf).map((phrase) => (
        <span key={phrase.key}>
          {phrase.before}
          <PhrasePopover facet="who" label={phrase.label} words={phrase.words}>
            {() => <FactEditor fact={phrase.key} visitor={journey.visitor} onChange={onFact} />}
          </PhrasePopover>
        </span>
      ))}
      , the visit begins{' '}
      <PhrasePopover facet="when" label="When the visit begins" words={sayAt(journey.at)}>
        {(close) => (
          <div className="grid gap-3">
            <label className="grid gap-1">
              <span className="font-semibold">On the clock of {site.timeZone}</span>
              <input
                type="datetime-local"
                value={journey.at ?? localNow(site.timeZone)}
                onChange={(e) => e.currentTarget.value && onBegin(e.currentTarget.value)}
              />
            </label>
            <p>
              <Button
                onClick={() => {
                  onBegin(undefined);
                  close();
                }}
              >
                Now
              </Button>
            </p>
          </div>
        )}
      </PhrasePopover>
      .
    </p>
  );
}

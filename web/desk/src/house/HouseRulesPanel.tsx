import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { PagePatterns } from '../catalogue/PagePatterns';
import { PointedChoice } from '../catalogue/PointedChoice';
import { Refusal } from '../data/api';
import { Button } from '../kit/Button';
import { NumberField, TextField, Tick } from '../kit/Field';
import { Panel, Refused, Section } from '../kit/Panel';
import { sitesQuery } from '../session/api';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { type HouseRules, setHouseRules } from './api';
import { WordsSection } from './WordsSection';

/** What holds over every callout of the site, and the words that it says by itself. */
export function HouseRulesPanel({ onClose }: { onClose(): void }) {
  const { site, member } = useDesk();
  const queries = useQueryClient();
  const mayEdit = mayAct(member, 'publish');
  const [rules, setRules] = useState<HouseRules>(site.rules);
  const [seen, setSeen] = useState<HouseRules>(site.rules);
  const [quiet, setQuiet] = useState<readonly string[]>(site.rules.quietPages);
  const edit = (change: Partial<HouseRules>) => setRules((before) => ({ ...before, ...change }));
  const save = useMutation({
    mutationFn: () => setHouseRules(site.id, { ...rules, quietPages: [...quiet] }, seen),
    onSuccess: async (saved) => {
      setRules(saved.rules);
      setSeen(saved.rules);
      setQuiet(saved.rules.quietPages);
      await queries.invalidateQueries({ queryKey: sitesQuery.queryKey });
      for (const key of ['run-sheet', 'rehearsal', 'callout', 'strip']) void queries.invalidateQueries({ queryKey: [key] });
    },
  });
  const refusal = save.error instanceof Refusal ? save.error : undefined;
  const said = (field: string) => (refusal?.field === field ? refusal.message : undefined);
  const number = (field: 'mostAtOnce' | 'gapSeconds' | 'mostPerVisit' | 'patienceSeconds', label: string, after: string, most: number) => (
    <div>
      <NumberField
        label={label}
        value={Number(rules[field])}
        min={field === 'mostAtOnce' || field === 'mostPerVisit' ? 1 : 0}
        max={most}
        after={after}
        aria-invalid={!!said(field)}
        onValue={(value) => edit({ [field]: value })}
      />
      {said(field) && <p className="text-[12px] text-bad">{said(field)}</p>}
    </div>
  );

  return (
    <Panel label="House rules" title="House rules" wide onClose={onClose}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate();
        }}
      >
        <fieldset disabled={!mayEdit}>
          <Section title="How much a visitor meets">
            {number('mostAtOnce', 'At most', 'on screen at once; a dialog is always alone', 5)}
            {number('gapSeconds', 'At least', 'seconds from the end of one to the next', 600)}
            {number('mostPerVisit', 'At most', 'in one visit', 100)}
            {number('patienceSeconds', 'Whoever waits for a place gives up after', 'seconds', 600)}
          </Section>
          <Section title="Where nothing is shown">
            <div className="grid gap-1">
              <PagePatterns title="Quiet pages" empty="No page is quiet" patterns={quiet} onChange={setQuiet} />
              <p role={said('quietPages') && 'alert'} className={`text-[12px] leading-4 ${said('quietPages') ? 'text-bad' : 'text-soft'}`}>
                {said('quietPages') ?? 'Such as /checkout/**. What a visitor asks for by a click stays away here too.'}
              </p>
            </div>
            <Tick checked={rules.needsConsent ?? false} onTick={(needsConsent) => edit({ needsConsent })}>
              Only to visitors who agreed to be remembered
            </Tick>
          </Section>
          <Section title="What goes first on your pages">
            <TextField
              label="Consent notice"
              hint="While this element is on the screen nothing starts. Pages can also mark it: data-outcry-consent."
              error={said('consentNotice')}
              value={rules.consentNotice ?? ''}
              placeholder="#cookies"
              onChange={(e) => edit({ consentNotice: e.currentTarget.value })}
            />
            <TextField
              label="Keep clear of"
              hint="Nothing is laid over these elements. Pages can also mark them: data-outcry-keep."
              error={said('keepClear')}
              value={rules.keepClear ?? ''}
              placeholder=".basket-bar, #help"
              onChange={(e) => edit({ keepClear: e.currentTarget.value })}
            />
            <PointedChoice onChoose={(selector) => edit({ keepClear: [rules.keepClear, selector].filter(Boolean).join(', ') })} />
          </Section>
        </fieldset>
        <div className="flex flex-wrap items-center gap-3 p-4">
          {mayEdit ? (
            <Button type="submit" kind="primary" disabled={save.isPending}>
              Save house rules
            </Button>
          ) : (
            <p className="text-soft">Publishers and owners change house rules.</p>
          )}
          {save.isSuccess && !save.isPending && <span role="status">In force now, on every page.</span>}
          {refusal && !refusal.field && <Refused error={refusal} />}
        </div>
      </form>
      <WordsSection mayEdit={mayEdit} />
    </Panel>
  );
}
